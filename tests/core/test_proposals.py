"""Commands find their tasks: how often what is sure is right, on the example and on a catalogue by other habits."""

import pathlib

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tools.measure_proposals import example

from amberkey.core.catalogue.proposing import Candidate, Proposal, Proposer, figures
from amberkey.core.catalogue.words import are_opposite, numbers, stems
from amberkey.core.programs.making import blank_program, with_commands
from amberkey.core.tasks.model import Task, Tasks
from amberkey.core.tasks.neutral import neutral_tasks

OTHER_HABITS = pathlib.Path(__file__).parent / "fixtures/other_habits.txt"


def program(*commands, name="Weir Desk"):
    given_ones = [{"name": c} if isinstance(c, str) else c for c in commands]
    return with_commands(blank_program(name, "1", "office", ["windows"], ()), given_ones)


def at(one):
    return f"{one.id}@{one.version}"


def tasks(*names, **words):
    return Tasks(
        id="tasks", name="Tasks", tasks=tuple(Task(id=n, name=n.replace("-", " "), other_words=words.get(n, ())) for n in names)
    )


def test_on_the_example_what_is_sure_is_right():
    programs, known = example()
    right = {(at(p), c.id): c.task for p in programs for c in p.commands}
    bare = [p.model_copy(update={"commands": tuple(c.model_copy(update={"task": None}) for c in p.commands)}) for p in programs]
    found = figures({at(p): Proposer(known).propose(p) for p in bare}, right)
    assert found["sure are right"] >= 0.98
    assert found["sure of all"] >= 0.5
    assert found["first three"] >= 0.75


def test_on_a_catalogue_by_other_habits_too():
    rows = [[c.strip() for c in line.split("|")] for line in OTHER_HABITS.read_text().splitlines() if not line.startswith("#")]
    assert len(rows) == 120
    other = program(*({"name": n, "keys": {"windows": k}} for n, k, _ in rows))
    right = {("other", c.id): None if t == "-" else t for c, (_, _, t) in zip(other.commands, rows, strict=True)}
    found = figures({"other": Proposer(neutral_tasks()).propose(other)}, right)
    assert found["sure are right"] >= 0.95
    assert found["sure of all"] >= 0.4
    assert found["first three"] >= 0.65


def test_one_program_gives_each_task_once_and_the_best_in_all():
    known = tasks("close-tab", "close")
    found = {p.command: p.task for p in Proposer(known).propose(program("Close the tab", "Close"))}
    assert found == {"close-the-tab": "close-tab", "close": "close"}
    one = tasks("close")
    assert sorted(filter(None, (p.task for p in Proposer(one).propose(program("Close it", "Close"))))) == ["close"]


def test_two_poor_matches_do_not_outweigh_a_good_one():
    desk = program(*({"name": n, "group": "File", "keys": {"windows": "Ctrl+P"}} for n in ("Print", "Stamp")))
    found = Proposer(neutral_tasks()).propose(desk)
    assert [(p.task, p.sure) for p in found] == [("print-document", True), (None, False)]


def test_of_two_commands_with_one_name_in_one_group_neither_is_sure():
    known = tasks("close-tab", "print")
    twice = Proposer(known).propose(program({"name": "Print", "group": "File"}, {"name": "Print", "group": "File"}))
    assert [p.sure for p in twice] == [False, False]
    assert [p.sure for p in Proposer(known).propose(program("Print"))] == [True]


def test_what_is_as_good_as_another_is_not_sure():
    known = Tasks.model_validate(
        {
            "id": "t",
            "name": "T",
            "tasks": [{"id": i, "name": i.title(), "other_words": ["shut it"]} for i in ("end", "finish")],
        },
        strict=False,
    )
    (found,) = Proposer(known).propose(program("Shut it"))
    assert (found.sure, {c.score for c in found.candidates}) == (False, {0.9016})


def test_what_was_refused_is_not_proposed_again_and_what_is_given_is_not_given_twice():
    known, desk = tasks("print"), program("Print", "Print it all")
    refused = Proposer(known, (), {("weir-desk", "print", "print")}).propose(desk)
    assert [(p.command, p.task) for p in refused] == [("print", None), ("print-it-all", "print")]
    done = desk.model_copy(update={"commands": (desk.commands[0].model_copy(update={"task": "print"}), desk.commands[1])})
    assert [(p.command, p.task) for p in Proposer(known).propose(done)] == [("print-it-all", None)]


def test_a_second_command_for_a_task_is_offered_as_the_other_way_and_never_taken_unseen():
    known, desk = tasks("print"), program("Print", "Print it", "Anchor up")
    done = desk.model_copy(update={"commands": (desk.commands[0].model_copy(update={"task": "print"}), *desk.commands[1:])})
    again, anchor = Proposer(known).propose(done)
    assert (again.task, again.sure) == (None, False)
    assert [(c.task, c.beside) for c in again.candidates] == [("print", "Print")]
    assert anchor.candidates == ()
    # Two that are there at once: the better one gets it, and the other one is told who has it.
    one, other, _ = Proposer(known).propose(desk)
    assert (one.task, [c.beside for c in one.candidates]) == ("print", [""])
    assert (other.task, [c.beside for c in other.candidates]) == (None, ["Print"])
    # What is only a little like it is no other way of doing it.
    letter = program("Print the long letter", "Long anchor")
    weak = Proposer(tasks("print-the-long-letter")).propose(letter)[1]
    assert [(c.task, c.beside) for c in weak.candidates] == [("print-the-long-letter", "")]
    given = letter.commands[0].model_copy(update={"task": "print-the-long-letter"})
    (weak,) = Proposer(tasks("print-the-long-letter")).propose(
        letter.model_copy(update={"commands": (given, letter.commands[1])})
    )
    assert weak.candidates == ()


def test_figures_count_what_is_right_of_the_sure_and_of_all():
    def one(command, task, sure, *shown):
        return Proposal(command, task, sure, tuple(Candidate(t, 0.5, ()) for t in shown))

    found = {
        "p": [one("a", "x", True, "x"), one("b", "y", True, "y"), one("c", None, False, "z"), one("d", "w", False, "w", "v")]
    }
    right = {("p", "a"): "x", ("p", "b"): "z", ("p", "c"): None, ("p", "d"): "v"}
    assert figures(found, right) == {"sure are right": 1 / 2, "sure of all": 1 / 3, "first three": 2 / 3}


def test_reasons_say_why():
    known = Tasks.model_validate(
        {
            "id": "tasks",
            "name": "Tasks",
            "tasks": [
                {
                    "id": "find",
                    "name": "Find",
                    "other_words": ["look for"],
                    "group": "Finding",
                    "usual": {"windows": ["Control+F"]},
                }
            ],
        },
        strict=False,
    )
    best = Proposer(known).propose(program({"name": "Look for", "group": "Finding", "keys": {"windows": "Ctrl+F"}}))[0]
    assert best.candidates[0].reasons == (
        "look for is another word for it",
        "Ctrl F on Windows is its usual key",
        "their groups are alike",
    )
    other = program({"name": "Seek it", "task": "find", "keys": {"windows": "F8"}}, name="Tide Ledger")
    by_key = Proposer(known, [other]).propose(program({"name": "Quest", "keys": {"windows": "F8"}}))[0]
    assert by_key.candidates[0].reasons == ("F8 on Windows does it in other programs",)
    assert not by_key.sure


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("Next tab", "Previous tab"),
        ("Vergrößern", "Verkleinern"),
        ("Ligne suivante", "Ligne précédente"),
        ("Visa panel", "Dölj panel"),
    ],
)
def test_opposites_are_known_in_four_languages(one, other):
    assert are_opposite(one, other)
    assert not are_opposite(one, one)


def test_words_are_stemmed_and_numbers_known():
    assert stems("Close the closed tabs") == (*stems("close"), *stems("tab"))
    assert numbers("Go to view 2") == numbers("View two") == {"2"}
    found = Proposer(tasks("view-1", "view-2")).propose(program("Show view 2"))
    assert found[0].task == "view-2"


@given(st.permutations(["Close tab", "Close", "Print", "Find next", "Find previous", "Zoom in"]))
def test_the_order_of_commands_does_not_matter(names):
    known = tasks("close-tab", "close", "print", "find-next", "find-previous", "zoom-in")
    found = {p.command: (p.task, p.sure) for p in Proposer(known).propose(program(*names))}
    assert found == {c: (c, True) for c in ("close-tab", "close", "print", "find-next", "find-previous", "zoom-in")}
