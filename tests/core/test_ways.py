"""Ways out by name: what each changes, and what it promises."""

import pytest

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.wording import say_shortcut
from amberkey.core.compare.operations import apply
from amberkey.core.documents.model import read_document
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.profiles.model import Profile
from amberkey.core.tasks.families import is_whole, shapes_for
from amberkey.core.ways.candidates import Wish, candidates_for
from amberkey.core.ways.changes import Change, patch
from amberkey.core.ways.proposing import assign, move_to, ways_out
from amberkey.core.ways.several import with_operations
from tests.core.estates import TODAY, read
from tests.core.scenes import SCOPES, command, entry, name, office, only, pressed, program, scene, system

FAMILY = {
    "tasks": [{"id": "next", "name": "Next"}, {"id": "back", "name": "Back"}, {"id": "find", "name": "Find"}],
    "families": [{"id": "walk", "name": "walking", "step": "shift", "members": ["next", "back"]}],
}


def ways(estate, kind=None, clash=None):
    group = next(g for g in estate.groups() if clash is None or g.clash.kind == clash)
    return [w for w in ways_out(estate, group, "house") if kind is None or w.kind == kind]


def taken(estate, way):
    """The estate after a way out."""
    document = apply(estate.profiles["house"].to_json(), way.changes["house"])
    profile = read_document(document, {"amberkey/profile@1": Profile})
    return Estate(estate.setups, estate.programs, {"house": profile}, estate.tasks, TODAY)


def test_moves_come_easiest_first_and_make_nothing():
    lock = command("lock", "everywhere", "Meta+L")
    estate = scene("windows", system("windows", lock), office("windows", command("jump-to-leg", "page", "Meta+L")))
    moves = ways(estate, "move")
    assert len(moves) == 3
    assert "first letter of Jump" in moves[0].reasons
    for way in moves:
        after = taken(estate, way)
        assert after.clashes("here") == []
        assert name(pressed(after, str(way.shortcut), "office/page")[0].effect.binding) == "office/jump-to-leg"


def test_an_entry_keeps_what_it_was_over_and_since_when():
    lock = command("lock", "everywhere", "Meta+L")
    estate = scene("windows", system("windows", lock), office("windows", command("jump", "page", "Meta+L")))
    (operation,) = ways(estate, "move")[0].changes["house"]
    assert (operation.after["over"], operation.after["since"]) == (["Meta+L"], "2026-11-24")


def test_the_same_task_elsewhere_and_the_family_count():
    lock = command("lock", "everywhere", "Meta+L")
    go_back = command("go-back", "page", "Control+Shift+U", task="back")
    here = office("windows", command("go-on", "page", "Meta+L", task="next"), go_back)
    sheet = program("windows", "sheet", "office", [command("on", "window", "Control+J", task="next")])
    estate = scene("windows", system("windows", lock), here, sheet, tasks=FAMILY)
    found = candidates_for(Wish.of(only(estate).subject), [estate.board("here")], 500)
    reasons = {str(c.shortcut): c.reasons for c in found}
    assert "the same as in Sheet" in reasons["Control+J"]
    assert all(("keeps the shape of walking" in r) == k.startswith("Control+Shift+") for k, r in reasons.items())


def test_a_family_moves_as_one():
    lock = command("lock", "everywhere", "Meta+L")
    here = office("windows", command("go-on", "page", "Meta+L", task="next"), command("go-back", "page", "F7", task="back"))
    estate = scene("windows", system("windows", lock), here, tasks=FAMILY)
    (way,) = ways(estate, "move_family")
    after = taken(estate, way)
    found = {b.command.task: b.shortcut for b in after.board("here").bindings if b.command.task}
    assert is_whole(estate.tasks.families[0], found, estate.tasks)
    assert found["back"].presses[0].modifiers == (*found["next"].presses[0].modifiers, "Shift")
    assert after.clashes("here") == []


@pytest.mark.parametrize(
    "step, first, others",
    [
        ("shift", "F3", ["Shift+F3"]),
        ("arrow", "Alt+ArrowLeft", ["Alt+ArrowRight"]),
        ("arrow", "Alt+J", None),
        ("digit", "Control+1", ["Control+2"]),
        ("letter", "Control+X", ["Control+B"]),
        ("shift", "Shift+F3", None),
    ],
)
def test_the_shapes_of_families(step, first, others):
    tasks = read({"format": "amberkey/tasks@1", "id": "t", "name": "T", **FAMILY})
    family = tasks.families[0].model_copy(update={"step": step})
    shapes = shapes_for(family, read_shortcut(first), tasks)
    assert [str(shapes[m]) for m in family.members[1:]] == others if others else not shapes


def test_taking_over_says_what_the_holder_loses_and_what_it_could_have():
    here = office("windows", command("sum", "page", "F8"), command("sort", "page", "F8"), on_tie="first")
    estate = scene("windows", here)
    with_next, way = ways(estate, "take_over")
    assert name(way.subject) == "office/sum"
    assert way.next_best is not None
    after = taken(estate, with_next)
    assert after.clashes("here") == []
    assert [b.shortcut for b in after.board("here").bindings_of("office", "sum")] == [way.next_best.shortcut]
    best = say_shortcut(way.next_best.shortcut, estate.board("here"))
    assert way.reasons == ("it has no other shortcut", f"its next best is {best}")
    kept = office("windows", command("sum", "page", "F8", "F9"), command("sort", "page", "F8"), on_tie="first")
    (way,) = ways(scene("windows", kept), "take_over")
    assert (way.reasons, way.next_best) == (("it keeps F9",), None)


def test_a_launcher_can_give_its_key_up():
    house = {"launchers": [{"id": "tides", "name": "Tides", "runs": "tides", "shortcuts": {"windows": ["F9"]}}]}
    estate = scene("windows", office("windows", command("count", "window", "F9")), house=house)
    (way,) = ways(estate, "take_over")
    after = taken(estate, way)
    assert after.clashes("here") == []
    assert after.profiles["house"].launchers[0].shortcuts == {}
    assert name(pressed(after, "F9", "office/page")[0].effect.binding) == "office/count"


@pytest.mark.parametrize("grip, offered", [("fixed", False), ("can be switched off", True)])
def test_a_system_is_asked_only_where_it_lets_go(grip, offered):
    taken_ = command("picture", "everywhere", "F11", grip=grip)
    estate = scene("windows", system("windows", taken_), office("windows", command("full", "window", "F11")))
    assert bool(ways(estate, "take_over")) == offered


def test_narrowing_keeps_the_shortcut_where_it_takes_nothing():
    scopes = [*SCOPES, {"id": "list", "name": "List", "parent": "window"}]
    here = office("windows", command("quote", "window", "Control+Alt+E"), scopes=scopes)
    estate = scene("windows", here, layout="de", body="iso")
    (way,) = ways(estate, "narrow")
    assert way.scopes == ("panel", "list")
    after = taken(estate, way)
    assert after.clashes("here") == []
    assert pressed(after, "Control+Alt+E", "office/page")[0].effect.text == "€"
    assert name(pressed(after, "Control+Alt+E", "office/list")[0].effect.binding) == "office/quote"


def test_nothing_is_narrowed_where_text_is_taken_all_over():
    here = office("windows", command("quote", "page", "Control+Alt+E"))
    assert ways(scene("windows", here, layout="de", body="iso"), "narrow") == []


def test_a_key_that_a_program_cannot_take_is_translated():
    here = office("windows", command("send", "window"), limits={"refuses": ["F1"]})
    estate = scene("windows", here, house={"entries": [entry("windows", "send", "F1")]})
    (way,) = ways(estate, "translate")
    after = taken(estate, way)
    assert after.clashes("here") == []
    done = pressed(after, "F1", "office/page")[0]
    assert name(done.effect.binding) == "office/send"
    assert done.steps[2].station == "intercept"


def test_nothing_is_translated_for_a_command_that_has_as_many_shortcuts_as_its_program_takes():
    here = office("windows", command("send", "window"), limits={"shortcuts_per_command": 1})
    estate = scene("windows", here, house={"entries": [entry("windows", "send", "Control+Ö", "F1")]})
    assert [g.clash.kind for g in estate.groups() if str(g.clash.subject.shortcut) == "F1"] == ["cannot"]
    assert ways(estate, "translate") == []


def test_what_means_nothing_is_taken_out():
    estate = scene("windows", office("windows"), house={"entries": [entry("windows", "gone", "F6")]})
    (way,) = ways(estate, "tidy")
    assert taken(estate, way).profiles["house"].entries == ()
    twice = scene("windows", office("windows", command("a", "panel")), house={"entries": [entry("windows", "a", "F6", "F6")]})
    (way,) = ways(twice, "tidy")
    assert [str(g.keys) for g in taken(twice, way).profiles["house"].entries[0].shortcuts] == ["F6"]


def test_allowing_is_always_there_and_changes_nothing():
    here = office("windows", command("sum", "page", "F8"), command("sort", "page", "F8"))
    (way,) = ways(scene("windows", here), "allow")
    assert way.changes == {}


def test_a_choice_of_ones_own_tells_what_it_makes():
    lock = command("lock", "everywhere", "Meta+L")
    here = office("windows", command("jump", "page", "Meta+L"), command("sum", "page", "F8"))
    estate = scene("windows", system("windows", lock), here)
    way = move_to(estate, estate.groups()[0], read_shortcut("F8"), "house")
    assert [g.clash.kind for g in way.consequences.makes] == ["same_scope"]


def test_sequences_are_proposed_to_a_command_that_has_one():
    lock = command("lock", "everywhere", "Meta+L")
    here = office("windows", command("a", "page", ["Control+K", "A"]), command("b", "page", ["Control+K", "Meta+L"]))
    estate = scene("windows", system("windows", lock), here)
    found = candidates_for(only(estate).subject, [estate.board("here")], 400)
    assert any(len(c.shortcut.presses) == 2 and c.shortcut.presses[0] == read_shortcut("Control+K").presses[0] for c in found)


def test_a_profile_before_its_release_shows_what_it_would_bring():
    here = office("windows", command("sum", "page", "F8"), command("sort", "page", "F9"))
    released = scene("windows", here)
    newest = scene("windows", here, house={"entries": [entry("windows", "sort", "F8")]})
    assert [g.clash.kind for g in released.new_in(newest)] == ["same_scope"]
    assert newest.new_in(released) == []


def test_copies_of_one_clash_are_one_group():
    here = office("windows", command("sum", "page", "F8"), command("sort", "page", "F8"))
    one = scene("windows", here)
    setups = {n: one.setups["here"].model_copy(update={"id": n, "people": 3}) for n in ("a", "b", "c")}
    estate = Estate(setups, one.programs, one.profiles)
    (group,) = estate.groups()
    assert (len(group.setups), group.people) == (3, 9)
    way = next(w for w in ways_out(estate, group, "house") if w.key == "take_over")
    assert (way.consequences.people, way.consequences.remains) == (9, ())


def test_the_press_of_a_protected_task_is_never_proposed():
    lock = command("lock", "everywhere", "Meta+L")
    here = office("windows", command("close-leg", "panel", "Meta+L"))
    copy = {"tasks": [{"id": "copy", "name": "Copy", "protected": True, "usual": {"windows": ["Control+C"]}}]}

    def proposed(tasks):
        estate = scene("windows", system("windows", lock), here, tasks=tasks)
        return {str(c.shortcut) for c in candidates_for(only(estate).subject, [estate.board("here")], 500)}

    assert proposed({"tasks": []}) - proposed(copy) == {"Control+C"}


def test_a_program_known_for_cards_only_is_asked_nothing():
    commands = (command("sort", "page", "F7"), command("join", "page", "F7"), command("type", "page", "B"))
    estate = scene("linux", office("linux", *commands, card_only=True))
    kinds = {g.clash.kind: {w.kind for w in ways_out(estate, g, "house")} for g in estate.groups()}
    assert kinds == {"same_scope": {"allow"}, "swallows_text": {"allow"}}


def test_what_lay_behind_an_earlier_clash_is_told_as_uncovered():
    """Three on one press: once the system lets go, two commands of the program meet."""
    mine = system("windows", command("grab", "everywhere", "F8", grip="can be switched off"))
    here = office("windows", command("a", "window", "F8"), command("b", "window", "F8"), on_tie="first")
    estate = scene("windows", mine, here)
    (way,) = ways(estate, "take_over", "system")
    (made,) = way.consequences.makes
    assert (made.clash.kind, way.consequences.uncovered) == ("same_scope", {made.clash.identity})


def test_a_command_that_is_given_its_old_key_back_has_given_nothing_up():
    two = office("windows", command("a", "window", "F8"), command("b", "panel", "F7"))
    moved = entry("windows", "a", "F9", over=["F8"], since="2026-11-20")
    estate = scene("windows", two, house={"entries": [moved, entry("windows", "b", "F8", since="2026-11-21")]})
    board, house = estate.board("here"), estate.profiles["house"]
    assert [str(r.shortcut) for r in board.setup.effective["office"].retired] == ["F8"]
    before = next(e for e in house.entries if e.command == "a")
    back = before.model_validate(entry("windows", "a", "F8", over=["F8"], since="2026-11-20"))
    patched = patch(board, estate.profiles, [Change("house", before, back)])
    assert patched.board.parts["office"].effective.retired == ()


TEMPLATE = {"arguments": [{"name": "by", "least": 1, "most": 9}]}


def test_a_template_gets_values_that_nobody_gave_it_before():
    """As proposals are judged on patched boards, so would saving make them; the template itself stays as it is."""
    stepping = command("step", "window", "F8", **TEMPLATE)
    estate = scene("windows", office("windows", stepping, command("stop", "window", "F9")))
    changes, told = assign(estate, ("office", "step"), "here", ((read_shortcut("F9"), None),), "house", (("by", 3),))
    assert [{b.called for b in g.clash.parties} for g in told.makes] == [{"Step [by 3]", "Stop"}]
    after = with_operations(estate, changes)
    assert [g.clash.identity for g in estate.new_in(after)] == [g.clash.identity for g in told.makes]
    assert keys_of_steps(after) == {"Step": "F8", "Step [by 3]": "F9"}


def keys_of_steps(estate):
    return {b.called: str(b.shortcut) for b in estate.board("here").bindings_of("office", "step")}


@pytest.mark.parametrize("holder", ["office", "system"])
def test_a_way_out_of_a_templates_clash_leaves_the_template_alone(holder):
    """In its own program the template's value holds the key that another command loses; against the system it loses."""
    stepping = command("step", "window", "F8", **TEMPLATE)
    stop = command("stop", "window" if holder == "office" else "everywhere", "F9")
    programs = {"office": [office("windows", stepping, stop)], "system": [system("windows", stop), office("windows", stepping)]}
    given = [entry("windows", "step", keys, arguments={"by": by}) for keys, by in (("F9", 3), ("F7", 5))]
    estate = scene("windows", *programs[holder], house={"entries": given})
    changing = [w for w in ways(estate) if w.changes]
    assert {w.kind for w in changing} == ({"take_over"} if holder == "office" else {"move"})
    for way in changing:
        assert way.subject.called == "Step [by 3]"
        keys = keys_of_steps(taken(estate, way))
        assert (keys["Step"], keys["Step [by 5]"]) == ("F8", "F7")
        assert keys.get("Step [by 3]") != "F9"
