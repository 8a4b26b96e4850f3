"""Cards: each key once, none that doesn't work without saying where, what has changed as a fact."""

import datetime
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.cards.content import card_of, changed_since, moved, setups_for
from amberkey.core.cards.learning import Lesson, lessons, weeks
from amberkey.core.cards.model import CardLine, Key
from amberkey.core.cards.telling import say_card, say_line
from amberkey.core.cards.wish import PAPERS, CardWish
from amberkey.core.cards.words import WORDS
from amberkey.core.documents.errors import DocumentError
from amberkey.core.documents.field import LANGUAGES
from amberkey.core.organisation.census import Census, Tally
from amberkey.core.organisation.deriving import NOBODY, Seated
from amberkey.core.worth.weighing import losers
from tests.core.scenes import command, entry, office, program, scene, system
from tests.core.seen import whole_example

DAY = datetime.date(2026, 10, 2)
TASKS = {
    "tasks": [
        {"id": "find", "name": "Find", "names": {"de": "Suchen"}},
        {"id": "undo", "name": "Undo", "names": {"de": "Rückgängig"}},
        {"id": "save", "name": "Save"},
    ]
}


def wish(**more):
    return CardWish(**{"platform": "windows", "layout": "us", **more})


def desk(*programs, **more):
    return scene("windows", *programs, tasks=TASKS, people=20, **more)


def card(estate, asked=None, **more):
    asked = asked or wish()
    return card_of(estate, asked, setups_for(estate, asked, NOBODY), **more)


def lines(found, *parts):
    return {line.id: line for part in found.parts for line in part.lines if not parts or part.title in parts}


SHEET = office("windows", command("look", "window", "Control+F", task="find"), command("stamp", "window", "F8"))
CHART = program("windows", "chart", "office", [command("seek", "window", "Control+F", task="find")])


def test_one_key_of_several_programs_stands_once():
    found = lines(card(desk(SHEET, CHART)))
    assert set(found) == {"find", "office/stamp"}
    assert (found["find"].name, found["find"].where) == ("Find", ())
    # Where there is one program alone, it is named.
    assert lines(card(desk(SHEET), wish(whole="by task")))["find"].where == ("Office",)
    assert found["office/stamp"].programs == ("Office",)


def test_other_keys_for_one_task_are_apart_and_say_where():
    other = program("windows", "chart", "office", [command("seek", "window", "F3", task="find")])
    found = lines(card(desk(SHEET, other)))
    assert {i: line.programs for i, line in found.items() if i.startswith("find")} == {
        "find Control+F": ("Office",),
        "find F3": ("Chart",),
    }


def test_what_holds_nearly_everywhere_says_where_it_does_not():
    same = [program("windows", f"p{n}", "office", [command("seek", "window", "Control+F", task="find")]) for n in range(3)]
    other = program("windows", "chart", "office", [command("seek", "window", "F3", task="find")])
    silent = program("windows", "mail", "office", [command("seek", "window", task="find")])
    found = lines(card(desk(*same, other, silent)))
    assert (found["find Control+F"].where, found["find Control+F"].said) == ((), ("not in Chart, Mail",))
    assert len(found["find Control+F"].programs) == 3
    assert found["find F3"].programs == ("Chart",)
    # Where it has no key that works in one of two programs, it isn't everywhere.
    assert lines(card(desk(same[0], silent)))["find"].programs == ("P0",)


def test_words_are_in_the_language_asked_for_and_caps_in_that_of_the_keyboard():
    estate = desk(SHEET, layout="de", body="iso")
    found = card(estate, wish(layout="de", language="de"))
    assert found.parts[0].title == "Jeden Tag"
    assert lines(found)["find"].name == "Suchen"
    assert lines(found)["find"].keys[0].caps == (("Strg", "F"),)
    assert lines(found)["office/stamp"].name == "Stamp"  # in the language that there is


def test_a_key_that_somebody_takes_is_left_out_and_said():
    lock = system("windows", command("grab", "everywhere", "F8"))
    found = card(desk(lock, SHEET))
    assert "office/stamp" not in lines(found)
    assert [(i, why) for i, _, why in found.left_out] == [
        ("office/stamp", "another command or program takes its key: decide that first")
    ]


def test_a_key_that_is_taken_at_some_desks_only_says_at_which():
    quiet = desk(SHEET)
    taken = desk(system("windows", command("grab", "everywhere", "F8")), SHEET)
    there = {**taken.setups["here"].model_dump(), "id": "there", "place": "at the pier", "people": 3}
    grabbing = {(p[0] + "2", p[1]): v for p, v in taken.programs.items() if p[0] == "system"}
    programs = {**quiet.programs, **grabbing}
    setup = type(taken.setups["here"]).model_validate(
        {**there, "programs": [{"id": "system2", "version": "1"}, {"id": "office", "version": "1"}]}
    )
    programs = {k: v.model_copy(update={"id": "system2"}) if k[0] == "system2" else v for k, v in programs.items()}
    both = replace(quiet, setups={**quiet.setups, "there": setup}, programs=programs)
    line = lines(card(both))["office/stamp"]
    assert line.notes == ("not at at the pier",) or line.notes == ("not at the pier",)
    assert say_line(line, "en").startswith("Stamp (Office): F8 [not at")


ROW = {"id": "row", "name": "Row", "keys": {"windows": [["F9", "1"], ["F9", "2"]]}}
MACROS = {"kept_in": ["person"], "replay": ["from the caret"], "longest": 12, "plain": True, "reserved": []}


def arranged(*programs, shelf=("stamp", "hold"), macro_keys="F7"):
    macro = {"program": "office", "id": "m", "name": "Twice", "kept": "person", "steps": [{"runs": "stamp"}]}
    return desk(
        *programs,
        office(
            "windows",
            command("stamp", "window", "F8"),
            command("hold", "window"),
            offers={"shelves": [ROW], "macros": MACROS},
        ),
        house={
            "shelves": [{"program": "office", "shelf": "row", "commands": list(shelf)}],
            "macros": [{**macro, "shortcuts": {"windows": [macro_keys]}}],
        },
    )


def test_keys_of_shelves_and_macros_stand_on_the_card():
    found = lines(card(arranged(), wish(whole="by task")))
    told = {line.name: [k.text for k in line.keys] for line in found.values()}
    assert told == {"Stamp": ["F8", "F9 then 1"], "Hold": ["F9 then 2"], "Twice": ["F7"]}
    assert all(line.minutes > 0 for line in found.values()), "each is worth something, and may be learned"
    taken = lines(card(arranged(system("windows", command("grab", "everywhere", "F9"))), wish(whole="by task")))
    assert {line.name: [k.text for k in line.keys] for line in taken.values()} == {"Stamp": ["F8"], "Twice": ["F7"]}


def with_letters(*programs, **hold):
    bar = {"id": "bar", "name": "Bar", "opened": {"windows": "Alt"}, "groups": [{"id": "file", "name": "File", "letter": "F"}]}
    group = {"program": "office", "id": "own", "place": "bar", "name": "Own", "commands": ["stamp", "hold"]}
    return desk(
        *programs,
        office("windows", command("stamp", "window", "F8"), command("hold", "window"), offers={"menus": [bar]}),
        house={"menu_groups": [group], **hold},
    )


def test_letters_in_menus_stand_on_the_card_where_nothing_shorter_works():
    def told(estate):
        found = lines(card(estate, wish(whole="by task"))).values()
        return {line.name: [k.text for k in line.keys] for line in found}

    # Both are in the own group; Stamp has a key beside it, which is what people learn.
    assert told(with_letters()) == {"Stamp": ["F8"], "Hold": ["Alt then O then H"]}
    taken = with_letters(system("windows", command("grab", "everywhere", "F8")))
    assert told(taken) == {"Stamp": ["Alt then O then S"], "Hold": ["Alt then O then H"]}
    own = with_letters(entries=[entry("windows", "hold", "F7")])
    assert told(own) == {"Stamp": ["F8"], "Hold": ["F7"]}


def test_a_place_that_has_another_command_by_now_has_changed():
    before, after = arranged(), arranged(shelf=("hold", "stamp"))
    found = lines(card(after, before=card(before).stood, since=DAY), f"New since {DAY}")
    assert found["office/hold"].notes == ("F9 then 2 does Stamp now",)
    assert [k.text for k in found["office/stamp"].old] == ["F9 then 1"]


def test_what_is_left_out_on_purpose_is_told():
    found = card(desk(SHEET), wish(left_out=("office/stamp",)))
    assert ("office/stamp", "Stamp", "left out on purpose") in found.left_out
    assert "office/stamp" not in lines(found)


def test_the_most_worth_stand_first_and_no_more_than_asked_for():
    estate = desk(office("windows", *(command(f"c{n}", "window", f"F{n + 5}") for n in range(6))))
    clerks = Tally({"here": 20}, ())
    weekly = {("office", f"c{n}"): {"clerk": 10 * n} for n in range(6)}
    estate = replace(estate, census=Census(clerks, clerks, {"clerk": clerks}, weekly))
    (part,) = card(estate, wish(most=3)).parts
    assert [line.id for line in part.lines] == ["office/c5", "office/c4", "office/c3"]
    assert all(line.known for line in part.lines)
    # Menu 4.75 s, F10 1.35 + 0.28 + its reach; 20 people, half of them, 50 times a week.
    assert part.lines[0].minutes == pytest.approx(500 * (4.75 - 1.63 - 0.01 * reach_of_f10(estate)) / 60)
    assert card(estate, wish(most=0)).parts == ()


def reach_of_f10(estate):
    from amberkey.core.layouts.reach import reach_of

    part = estate.board("here").parts["office"]
    (binding,) = part.commanded("c5")
    return reach_of(binding.ways[0][0], part.ground.keyboard.body).score


def test_keys_that_everybody_has_in_the_fingers_are_not_what_is_worth_most():
    tasks = {"tasks": [{"id": "copy", "name": "Copy", "usual": {"windows": ["Control+C"]}}, {"id": "find", "name": "Find"}]}
    own = office(
        "windows", command("copy", "window", "Control+C", task="copy"), command("look", "window", "Control+F", task="find")
    )
    estate = scene("windows", own, tasks=tasks, people=20)
    assert [line.id for line in card(estate).parts[0].lines] == ["find"]
    assert "copy" in lines(card(estate, wish(most=0, whole="by task")))


def learned(**minutes):
    key = lambda text: Key(text, text, ((text,),))  # noqa: E731
    return [CardLine(name, name, (key(f"F{n}"),), minutes=m) for n, (name, m) in enumerate(minutes.items(), 1)]


WALK = {
    "tasks": [{"id": i, "name": i} for i in ("on", "back", "find")],
    "families": [{"id": "walk", "name": "Walk", "step": "shift", "members": ["on", "back"]}],
}


def test_the_most_minutes_for_the_least_that_is_new_are_learned_first():
    tasks = scene("windows", office("windows"), tasks=WALK).tasks
    found = lessons(learned(find=12, on=8, back=7, stamp=3), tasks, {})
    assert [([v.id for v in lesson.lines], lesson.new) for lesson in found] == [
        (["on", "back"], 1),
        (["find"], 1),
        (["stamp"], 1),
    ]
    assert [lesson.minutes for lesson in found] == [15, 12, 3]


def test_who_learns_one_of_two_keys_has_learned_what_they_do():
    (line,) = learned(find=12)
    (lesson,) = lessons([replace(line, keys=(*line.keys, Key("F9", "F9", (("F9",),))))], scene("windows", SHEET).tasks, {})
    assert lesson.new == 1


def test_what_is_out_of_date_is_what_has_other_keys_for_most_and_stood_on_the_card():
    before = desk(office("windows", command("stamp", "window", "F8"), command("drop", "window", "F9")))
    stood = card(before).stood
    after = desk(
        office("windows", command("stamp", "window", "F7"), command("drop", "window", "F9"), command("new", "window", "F6"))
    )
    assert changed_since(after, ("here",), stood) == ("office/stamp",)
    assert changed_since(before, ("here",), stood) == ()


def test_a_key_that_meant_something_else_until_lately_waits():
    tasks = scene("windows", office("windows"), tasks=WALK).tasks
    found = lessons(learned(stamp=30, find=2), tasks, {"F1": "Drop"})
    assert [lesson.lines[0].id for lesson in found] == ["find", "stamp"]
    assert found[1].was == "Drop"


def test_a_key_that_moves_on_a_date_is_learned_first_the_earliest_before_the_others():
    tasks = scene("windows", office("windows"), tasks=WALK).tasks
    lines_of = {v.id: v for v in learned(stamp=30, find=2, on=1)}
    dated = [replace(lines_of["find"], on="2031-05-02"), replace(lines_of["on"], on="2031-05-01"), lines_of["stamp"]]
    found = lessons(dated, tasks, {"F1": "Drop"})
    assert [(lesson.lines[0].id, lesson.on) for lesson in found] == [
        ("on", "2031-05-01"),
        ("find", "2031-05-02"),
        ("stamp", ""),
    ]


def test_a_key_that_people_get_on_a_date_says_from_when():
    before = desk(
        office("windows", command("stamp", "window", "F8"), command("drop", "window"), command("look", "window", "F9"))
    )
    after = desk(
        office("windows", command("stamp", "window", "F7"), command("drop", "window", "F8"), command("look", "window"))
    )
    # What had no key before, or has none after, moves none.
    assert moved(before, after, "here") == ("office/stamp",)
    assert moved(before, after, "elsewhere") == ()
    found = card(after, wish(most=5, pace=3, hurry=False), moves={"office/stamp": {"here": DAY}})
    week = next(p for p in found.parts if p.title == "Week 1")
    assert [(v.name, v.notes, v.on) for v in week.lines] == [
        ("Stamp", (f"from {DAY} on",), DAY.isoformat()),
        ("Drop", (), ""),
    ]


@given(st.lists(st.integers(1, 6), max_size=12), st.sampled_from([3, 4, 5]))
def test_no_week_has_more_that_is_new_than_its_pace_and_none_is_lost(sizes, pace):
    made = [Lesson((), new, 1.0, "") for new in sizes]
    found = weeks(made, pace)
    assert [lesson for week in found for lesson in week] == made
    assert all(week and (len(week) == 1 or sum(v.new for v in week) <= pace) for week in found)
    # And no week begins before the one before is full.
    assert all(sum(v.new for v in a) + b[0].new > pace for a, b in pairwise(found))


def test_on_a_card_with_weeks_a_key_that_was_another_lately_comes_last_and_says_so():
    before = desk(office("windows", command("drop", "window", "F8"), command("stamp", "window"), command("look", "window")))
    keys = {"drop": [], "stamp": ["F8"], "look": ["F9"]}
    after = desk(office("windows", *(command(name, "window", *own) for name, own in keys.items())))
    found = card(after, wish(most=5, pace=3, hurry=False), before=card(before).stood, since=DAY)
    week = next(p for p in found.parts if p.title == "Week 1")
    assert [(v.name, v.notes) for v in week.lines] == [("Look", ()), ("Stamp", ("its key was Drop until lately",))]


def test_a_card_with_a_pace_has_weeks():
    estate = desk(office("windows", *(command(f"c{n}", "window", f"F{n + 4}") for n in range(7))))
    found = card(estate, wish(most=7, pace=3, hurry=False))
    assert [(p.title, len(p.lines)) for p in found.parts] == [("Week 1", 3), ("Week 2", 3), ("Week 3", 1)]
    whole = card(estate, wish(most=7, pace=3, hurry=False, whole="by task"))
    assert [p.learned for p in whole.parts] == [True, True, True, False]


def test_what_has_changed_is_held_against_what_held_before():
    before = desk(
        office("windows", command("stamp", "window", "F8"), command("drop", "window"), command("old", "window", "F9"))
    )
    after = desk(
        office("windows", command("stamp", "window", "F10"), command("drop", "window", "F8"), command("old", "window"))
    )
    stood = card(before).stood
    found = lines(card(after, before=stood, since=DAY), f"New since {DAY}")
    assert set(found) == {"office/stamp", "office/old"}
    assert ([k.text for k in found["office/stamp"].old], found["office/stamp"].notes) == (["F8"], ("F8 does Drop now",))
    assert found["office/old"].notes == ("no key any more", "F9 does nothing any more")
    assert lines(card(before, before=stood, since=DAY), f"New since {DAY}") == {}
    assert lines(card(after, wish(changed=False), before=stood, since=DAY), f"New since {DAY}") == {}


def test_in_a_hurry_stands_what_gets_people_out_and_is_not_said_twice():
    own = office("windows", command("back", "window", "Control+Z", task="undo"), command("lock", "window", "F8"))
    lock = system("windows", command("lock", "everywhere", "Meta+L"), command("show", "everywhere", "Meta+D"))
    found = card(desk(lock, own))
    hurry = next(p for p in found.parts if p.title == "When something is stuck")
    assert [(line.name, line.keys[0].words) for line in hurry.lines] == [("Undo", "Ctrl Z"), ("Lock", "Win L")]
    # What a program locks is not the screen.
    assert [line.id for line in found.parts[0].lines] == ["office/lock"]
    assert all(p.title != "When something is stuck" for p in card(desk(lock, own), wish(hurry=False)).parts)


def test_the_whole_list_by_program_has_what_holds_everywhere_in_each():
    found = card(desk(SHEET, CHART), wish(most=0, hurry=False, whole="by program"))
    assert {p.title: [v.name for v in p.lines] for p in found.parts} == {"Chart": ["Find"], "Office": ["Find", "Stamp"]}
    other = program("windows", "mail", "office", [command("seek", "window", "F3", task="find")])
    third = program("windows", "draw", "office", [command("seek", "window", "Control+F", task="find")])
    by_program = card(desk(SHEET, CHART, third, other), wish(most=0, hurry=False, whole="by program"))
    keys = {p.title: [v.keys[0].text for v in p.lines if v.name == "Find"] for p in by_program.parts}
    assert keys == {"Chart": ["Control+F"], "Draw": ["Control+F"], "Mail": ["F3"], "Office": ["Control+F"]}
    (part,) = card(desk(SHEET, CHART), wish(most=0, hurry=False, whole="by task")).parts
    assert [v.name for v in part.lines] == ["Find", "Stamp"]


def test_a_card_for_a_role_is_for_the_desks_of_its_people():
    estate = desk(SHEET)
    none = replace(estate, census=Census(Tally({"here": 20}, ()), Tally({}, ()), {"pilot": Tally({"here": 2}, ())}, {}))
    assert setups_for(none, wish(of="role", who="pilot"), NOBODY) == ("here",)
    assert setups_for(none, wish(of="role", who="cook"), NOBODY) == ()
    elsewhere = replace(none, census=Census(Tally({"here": 20}, ()), Tally({}, ()), {"pilot": Tally({"there": 2}, ())}, {}))
    assert setups_for(elsewhere, wish(of="role", who="pilot"), NOBODY) == ()
    pier = replace(NOBODY, departments={"here": ("pier",)})
    assert setups_for(none, wish(of="department", who="pier"), pier) == ("here",)
    assert setups_for(none, wish(layout="de"), NOBODY) == ()


def test_a_card_for_one_person_is_for_the_desks_where_they_sit():
    estate, seated = desk(SHEET), (Seated("bo", "counter", "us", "here"), Seated("ada", "pier", "us", "there"))
    derived = replace(NOBODY, seated=seated)
    assert setups_for(estate, wish(of="person", who="bo"), derived) == ("here",)
    assert setups_for(estate, wish(of="person", who="ada"), derived) == ()
    asked = wish(of="person", who="bo")
    assert card_of(estate, asked, ("here",)).people == 20
    assert card_of(estate, asked, ("here",), people=1).people == 1


@pytest.mark.parametrize(
    "wrong", [{"of": "person"}, {"of": "role"}, {"who": "pilot"}, {"most": 61}, {"paper": "A7"}, {"language": "xx"}]
)
def test_a_wish_that_makes_no_card_is_refused(wrong):
    with pytest.raises((ValueError, DocumentError)):
        wish(**wrong)


def test_every_word_is_there_in_every_language():
    gaps = {
        name: {tuple(sorted(part.split("}")[0] for part in text.split("{")[1:])) for text in of.values()}
        for name, of in WORDS.items()
    }
    assert all(set(of) == set(LANGUAGES) for of in WORDS.values())
    assert all(len(found) == 1 for found in gaps.values())
    assert len(PAPERS) == 5


def test_a_card_is_told_as_text():
    text = say_card(card(desk(SHEET, CHART)), "At the counter", "en")
    assert text.splitlines()[:2] == ["At the counter", "=============="]
    assert "  Find: Ctrl F" in text.splitlines()
    assert "  Stamp (Office): F8" in text.splitlines()


def test_what_stands_on_a_card_works_at_every_desk_that_it_is_for():
    """Over the example: every key without a note works wherever one of the line's programs has the command."""
    estate = whole_example()
    audiences = {(s.works_on, s.reads_by) for s in estate.setups.values()}
    assert len(audiences) > 4
    for platform, layout in sorted(audiences):
        asked = wish(platform=platform, layout=layout, most=60, whole="by task")
        setups = setups_for(estate, asked, NOBODY)
        for line in lines(card_of(estate, asked, setups)).values():
            wanted = {k.text for k in line.keys}
            if line.notes:
                continue
            for setup in setups:
                assert desk_has(estate, setup, line, wanted), (setup, line)


def desk_has(estate, setup, line, wanted):
    """Whether every command of a line has just its keys at a desk, or isn't there."""
    board, lost = estate.board(setup), losers(estate.clashes(setup))
    task, own, letters = line.id.split(" ")[0], {}, {}
    for part in board.parts.values():
        if line.programs and part.program.name not in line.programs:
            continue
        for binding in part.bindings:
            command = binding.command
            names = {command.task, *(f"{part.program.id}/{i}" for i in (command.id, *command.was))}
            if task not in names or binding.arguments or not binding.live or binding.participant in lost:
                continue
            if binding.placed is None or binding.placed.section in ("shelves", "macros"):
                own.setdefault(command.id, set()).add(str(binding.shortcut))
            elif binding.placed.section == "menu_groups":
                letters.setdefault(command.id, set()).add(str(binding.shortcut))
    own = {**letters, **own}
    return not own or wanted in own.values()
