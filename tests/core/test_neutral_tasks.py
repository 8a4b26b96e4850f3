"""The list of tasks that ships."""

from collections import Counter
from importlib import resources

from amberkey.core.keys.platform import PLATFORMS
from amberkey.core.tasks.neutral import groups_of, neutral_tasks, only_groups


def test_every_task_has_words_in_all_four_languages_and_stands_in_a_group():
    text = resources.files("amberkey.core.tasks").joinpath("data/neutral.txt").read_text("utf-8").split("\nFamilies\n")[0]
    rows = [line.split(" |") for line in text.splitlines() if " |" in line and not line.startswith("#")]
    assert len(rows) == len(neutral_tasks().tasks) >= 150
    assert [r[0] for r in rows if len(r) != 7 or not all(cell.strip() for cell in r[:6])] == []
    assert sum(groups_of(neutral_tasks()).values()) == len(rows)


def test_every_platform_has_usual_keys_with_its_own_modifiers():
    for platform in PLATFORMS:
        shortcuts = [s for t in neutral_tasks().tasks for s in t.usual_on(platform)]
        assert len(shortcuts) > 80
        assert all(s.resolve(platform) == s for s in shortcuts)


def test_no_two_protected_tasks_want_the_same_key():
    for platform in PLATFORMS:
        wanted = Counter(s for t in neutral_tasks().tasks if t.protected for s in t.usual_on(platform))
        assert max(wanted.values()) == 1


def test_some_groups_come_with_the_families_that_are_whole_in_them():
    some = only_groups(neutral_tasks(), {"Finding", "Moving"})
    assert set(groups_of(some)) == {"Finding", "Moving"}
    members = {m for f in some.families for m in f.members}
    assert "find-next" in members
    assert members <= {t.id for t in some.tasks}
    assert "reply" not in members
