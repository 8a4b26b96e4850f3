"""Tasks taken, merged and taken out, and what that makes of programs and of the standard."""

from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.standard.model import NO_STANDARD, Exempt, Line
from amberkey.core.standard.tasks_moved import standard_with_task_moved
from amberkey.core.tasks.editing import merged, with_family, with_taken, with_task, with_task_moved, without_task
from amberkey.core.tasks.model import Family, Task, Tasks
from tests.core.scenes import command, office

NAMES = ("a", "b", "c", "d")
ids = st.sampled_from(NAMES)
platforms = st.sampled_from(("windows", "macos"))
layouts = st.sampled_from(((), ("de",), ("de", "us"), ("us",)))


@st.composite
def some_tasks(draw):
    kept = draw(st.lists(ids, unique=True, min_size=1))
    usual = st.dictionaries(platforms, st.sampled_from([(read_shortcut("F8"),), (read_shortcut("F9"),)]), max_size=2)
    tasks = tuple(
        Task(id=i, name=i.upper(), other_words=(f"word of {i}",), protected=draw(st.booleans()), usual=draw(usual))
        for i in kept
    )
    free = list(draw(st.permutations(kept)))
    families = []
    while len(free) > 1 and draw(st.booleans()):
        size = draw(st.integers(2, min(3, len(free))))
        families.append(Family(id=f"f{len(families)}", name="F", step="shift", members=tuple(free[:size])))
        free = free[size:]
    return Tasks(id="tasks", name="Tasks", tasks=tasks, families=tuple(families))


def sound(tasks):
    """Whatever is done with tasks, they can be read again."""
    return read_document(tasks.to_json(), FORMATS) == tasks.normal()


@given(some_tasks(), some_tasks())
def test_what_is_taken_stands_beside_ones_own_which_stays_as_it_was(own, taken):
    both = with_taken(own, taken)
    assert sound(both)
    assert both.tasks[: len(own.tasks)] == own.tasks
    assert {t.id for t in both.tasks} == {t.id for t in (*own.tasks, *taken.tasks)}
    assert set(own.families) <= set(both.families)
    assert with_taken(both, taken) == both
    new = {f.id for f in both.families} - {f.id for f in own.families}
    placed = {m for f in own.families for m in f.members}
    assert new == {f.id for f in taken.families if f.id not in {o.id for o in own.families} and placed.isdisjoint(f.members)}


@given(some_tasks(), ids)
def test_a_task_that_is_out_is_in_no_family(tasks, gone):
    left = without_task(tasks, gone)
    assert sound(left)
    assert left.task(gone) is None
    assert {t.id for t in left.tasks} == {t.id for t in tasks.tasks} - {gone}
    assert left.family_of(gone) is None
    kept = {f.id: f for f in left.families}
    for family in tasks.families:
        rest = tuple(m for m in family.members if m != gone)
        assert (kept[family.id].members == rest) if len(rest) > 1 else family.id not in kept


@given(some_tasks(), st.data())
def test_of_two_merged_tasks_one_stands_for_both(tasks, data):
    gone, into = (data.draw(st.sampled_from(tasks.tasks)) for _ in range(2))
    if gone == into:
        return
    both = merged(tasks, gone, into)
    assert sound(both)
    one = both.task(into.id)
    assert both.task(gone.id) is None
    assert (one.name, one.protected) == (into.name, into.protected or gone.protected)
    assert {*into.other_words, gone.name, *gone.other_words} == set(one.other_words)
    assert one.usual == {**gone.usual, **into.usual}


def test_a_family_takes_its_members_out_of_others_and_a_task_is_put_in_once():
    own = Tasks(id="tasks", name="T", tasks=tuple(Task(id=i, name=i) for i in NAMES))
    one = with_family(own, Family(id="x", name="X", step="shift", members=("a", "b")))
    other = with_family(one, Family(id="y", name="Y", step="arrow", members=("b", "c", "d")))
    assert [f.id for f in other.families] == ["y"]  # of the first, one member was left
    changed = with_family(other, Family(id="y", name="Y", step="digit", members=("c", "d")))
    assert [(f.step, f.members) for f in changed.families] == [("digit", ("c", "d"))]
    assert [t.name for t in with_task(own, Task(id="b", name="B")).tasks] == ["a", "B", "c", "d"]
    assert [t.id for t in with_task(own, Task(id="e", name="e")).tasks] == [*NAMES, "e"]


def test_commands_go_along_with_their_task_all_or_some():
    document = office(
        "windows", command("one", "window", task="a"), command("two", "window", task="a"), command("three", "window", task="b")
    )
    program = read_document(document, FORMATS)

    def tasks(changed):
        return [c.task for c in changed.commands]

    assert tasks(with_task_moved(program, "a", "c")) == ["c", "c", "b"]
    assert tasks(with_task_moved(program, "a", None)) == [None, None, "b"]
    assert tasks(with_task_moved(program, "a", "c", frozenset({"two", "three"}))) == ["a", "c", "b"]


def lines(draw):
    found, seen = [], set()
    for task, platform, on in draw(st.lists(st.tuples(ids, platforms, layouts), max_size=8)):
        wanted = {(task, platform, o) for o in on or ("",)}
        if seen.isdisjoint(wanted):
            seen |= wanted
            found.append(
                Line(task=task, platform=platform, layouts=on, keys=read_shortcut(draw(st.sampled_from(["F8", "F9"]))))
            )
    return tuple(found)


def exceptions(draw):
    found, seen = [], set()
    for task, program, platform, on in draw(st.lists(st.tuples(ids, st.sampled_from("x"), platforms, layouts), max_size=8)):
        wanted = {(task, program, platform, o) for o in on or ("",)}
        if seen.isdisjoint(wanted):
            seen |= wanted
            found.append(Exempt(task=task, program=program, platform=platform, layouts=on, reason="It is so."))
    return tuple(found)


@given(st.data())
def test_lines_and_exceptions_of_a_merged_task_are_those_of_the_other_unless_it_has_its_own(data):
    standard = NO_STANDARD.model_copy(update={"lines": lines(data.draw), "exceptions": exceptions(data.draw)})
    then = standard_with_task_moved(standard, "a", "b")
    assert read_document(then.to_json(), FORMATS) == then.normal()
    assert not {v.task for v in (*then.lines, *then.exceptions)} & {"a"}
    for section in ("lines", "exceptions"):
        before, after = getattr(standard, section), getattr(then, section)
        assert [v for v in before if v.task != "a"] == [v for v in after if v in before]
        moved = [v for v in after if v not in before]
        for one in (v for v in before if v.task == "a"):
            as_b = one.model_copy(update={"task": "b"})
            own = [v for v in before if v.task == "b" and v.platform == one.platform]
            own = [v for v in own if section == "lines" or v.program == one.program]
            meets = any(set(v.layouts or ("",)) & set(one.layouts or ("",)) for v in own)
            assert (as_b in moved) is not meets


@given(st.data())
def test_a_task_that_is_out_has_no_line_and_no_exception(data):
    standard = NO_STANDARD.model_copy(update={"lines": lines(data.draw), "exceptions": exceptions(data.draw)})
    then = standard_with_task_moved(standard, "a", None)
    assert then.lines == tuple(v for v in standard.lines if v.task != "a")
    assert then.exceptions == tuple(e for e in standard.exceptions if e.task != "a")
