"""A first standard, and ids made from names."""

import re
from collections import Counter

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.ids import fresh_id, id_from
from amberkey.core.standard.beginning import from_presses, from_usual, platforms_of
from tests.core.scenes import command, office, program, scene, system
from tests.core.test_standard import drawings, put_up, slowly

WORKING = {"tasks": [{"id": t, "name": t.title()} for t in ("save", "find", "print")]}


def keys_of(standard):
    return {line.task: str(line.keys) for line in standard.lines}


def test_the_press_of_most_programs_is_taken_where_as_many_people_have_it():
    one = office("windows", command("keep", "window", "F8", task="save"))
    others = [program("windows", n, "office", [command("keep", "window", "F9", task="save")]) for n in ("a", "b")]
    assert keys_of(from_presses(scene("windows", one, *others, tasks=WORKING))) == {"save": "F9"}


def test_a_press_is_given_to_one_task_only_and_the_other_gets_its_next_one():
    both = office(
        "windows",
        command("keep", "window", "F8", task="save"),
        command("look", "window", "F8", "F9", task="find"),
        command("paper", "window", "F8", task="print"),
    )
    more = program("windows", "a", "office", [command("keep", "window", "F8", task="save")])
    assert keys_of(from_presses(scene("windows", both, more, tasks=WORKING))) == {"save": "F8", "find": "F9"}


def test_tasks_of_more_people_choose_first_and_of_as_many_those_of_more_programs():
    def two(first, second):
        return [command("one", "window", *first, task="find"), command("two", "window", *second, task="save")]

    programs = [
        office("windows", *two(["F8"], ["F8", "F9"])),
        program("windows", "a", "office", [command("two", "window", "F8", task="save")]),
    ]
    assert keys_of(from_presses(scene("windows", *programs, tasks=WORKING))) == {"save": "F8"}


def test_what_the_system_has_for_a_task_is_nobodys_press_of_it():
    table = system("windows", command("lock", "everywhere", "F8", task="find"))
    estate = scene("windows", table, office("windows", command("keep", "window", "F9", task="save")), tasks=WORKING)
    assert keys_of(from_presses(estate)) == {"save": "F9"}


def test_each_platform_has_lines_of_its_own_people_only():
    both = office("windows", command("keep", "window", "F8", task="save"))
    both["platforms"] = ["windows", "macos"]
    both["commands"][0]["defaults"] = {"windows": ["F8"], "macos": ["F9"]}
    near = scene("windows", both, tasks=WORKING)
    mac = scene("macos", program("macos", "mac-system", "system", []), both, tasks=WORKING)
    setups = {"here": near.setups["here"], "there": mac.setups["here"].model_copy(update={"id": "there"})}
    estate = type(near)(setups, {**near.programs, **mac.programs}, near.profiles, near.tasks, near.today)
    assert [(v.platform, str(v.keys)) for v in from_presses(estate).lines] == [("windows", "F8"), ("macos", "F9")]


def test_usual_keys_make_a_standard_and_protected_tasks_choose_first():
    usual = {"windows": ["Control+E"]}
    tasks = {"tasks": [{"id": "next", "name": "Next", "usual": usual}, {"id": "save", "name": "Save", "usual": usual}]}
    tasks["tasks"][1]["protected"] = True
    estate = scene("windows", office("windows", command("keep", "window", "F8", task="save")), tasks=tasks)
    assert keys_of(from_usual(estate)) == {"save": "Control+E"}


def test_before_anybody_works_the_platforms_are_those_of_the_programs():
    estate = scene("macos", office("macos", command("keep", "window", "F8")), tasks=WORKING)
    assert platforms_of(estate) == ("macos",)
    nobody = type(estate)({}, estate.programs, estate.profiles, estate.tasks, estate.today)
    assert platforms_of(nobody) == ("macos",)


@slowly
@given(drawings)
def test_a_first_standard_never_has_one_press_twice_and_only_presses_that_people_have(drawn):
    estate = put_up(*drawn)
    for standard in (from_presses(estate), from_usual(estate)):
        assert max(Counter((v.platform, v.keys) for v in standard.lines).values(), default=1) == 1
    for one in from_presses(estate).lines:
        had = [
            s
            for i, setup in estate.setups.items()
            if setup.works_on == one.platform
            for part in estate.board(i).parts.values()
            if one.task in part.effective.by_task
            for s, _ in part.effective.by_task[one.task].now.shortcuts
        ]
        assert one.keys in had


def test_ids_read_like_their_names():
    names = {"Größe ändern": "grosse-andern", "Cut & paste": "cut-and-paste", "  Save as… ": "save-as", "Łódź": "lodz"}
    assert {n: id_from(n) for n in names} == names
    assert re.fullmatch(r"n-[0-9a-f]{8}", id_from("保存"))
    assert id_from("保存") != id_from("開く")


@given(st.text(min_size=1, max_size=200))
def test_an_id_made_of_any_name_is_one_and_stays_itself(name):
    made = id_from(name)
    assert re.fullmatch(r"[a-z0-9]+(?:-[a-z0-9]+)*", made)
    assert len(made) <= 80
    assert id_from(made) == made


@given(st.text(min_size=1, max_size=30), st.integers(0, 5))
def test_a_fresh_id_is_not_taken(name, already):
    taken = []
    for _ in range(already):
        taken.append(fresh_id(name, taken))
    assert len({*taken, fresh_id(name, taken)}) == already + 1
