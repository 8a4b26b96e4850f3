"""What a program's own habits do to clashes and traces: ties, scope order, shadows, editions, renamed commands."""

import pytest

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import trace_stroke
from amberkey.core.clashes.wording import say_clash
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.strokes import Stroke
from amberkey.core.profiles.model import Entry, Given, Profile
from tests.core.estate_fixture import programs, setups
from tests.core.test_clashes import entry, house

SORT = Stroke("KeyS", frozenset({"Control", "Shift"}))


def estate_with(profile=None, **tableware):
    """The fixture with Tableware's habits changed and House as given."""
    changed = [p.model_copy(update=tableware) if p.id == "tableware" else p for p in programs()]
    return Estate(
        {s.id: s for s in setups()},
        {(p.id, p.version): p for p in changed},
        {"house": profile or Profile(id="house", name="House")},
    )


def clash_of(estate, kind, command, setup="german"):
    found = [c for c in estate.clashes(setup) if c.kind == kind and command in {b.command.id for b in (c.holder, c.loser) if b}]
    return found[0] if found else None


@pytest.mark.parametrize(
    "tie, winner, says",
    [
        ("first", "sort", "takes the first one, so Sum never runs"),
        ("last", "sum", "takes the last one, so Sort never runs"),
        ("either", "sort", "nobody can say which of them runs"),
    ],
)
def test_a_tie_goes_as_the_program_says(tie, winner, says):
    estate = estate_with(on_tie=tie)
    clash = clash_of(estate, "same_scope", "sort")
    assert clash.holder.command.id == winner
    assert says in say_clash(clash, estate.board("german"))
    trace = trace_stroke(estate.board("german"), SORT, "tableware", "grid")
    assert trace.effect.binding.command.id == winner
    assert ("nobody can say" in trace.steps[-1].says) == (tie == "either")


def test_two_ways_to_decide_a_tie_have_one_identity():
    identities = {clash_of(estate_with(on_tie=t), "same_scope", "sort").identity for t in ("first", "last", "either")}
    assert len(identities) == 1


@pytest.mark.parametrize("order, holder", [("inner", "fold"), ("outer", "save")])
def test_an_inner_scope_hides_an_outer_command_or_the_other_way_round(order, holder):
    estate = estate_with(house(entry("fold", "Control+S")), scope_order=order)
    clash = clash_of(estate, "shadow", "save")
    assert (clash.holder.command.id, clash.severity) == (holder, "medium")
    trace = trace_stroke(estate.board("german"), Stroke("KeyS", frozenset({"Control"})), "tableware", "grid")
    assert trace.effect.binding is clash.holder
    assert "hides" in say_clash(clash, estate.board("german"))


def test_a_shadow_that_the_maker_meant_is_none():
    tableware = next(p for p in programs() if p.id == "tableware")
    commands = tuple(
        c.model_copy(update={"defaults": {"windows": (read_shortcut("Control+S"),)}}) if c.id == "sort" else c
        for c in tableware.commands
    )
    assert clash_of(estate_with(commands=commands), "shadow", "save") is None


def test_scopes_beside_each_other_do_not_clash():
    estate = estate_with(house(entry("side-power", "Control+Shift+S")))
    commands = {b.command.id for c in estate.clashes("german") for b in (c.holder, c.loser) if b and c.kind == "same_scope"}
    assert "side-power" not in commands


def test_one_key_in_two_programs_is_no_clash():
    pagewright = entry("search", "Control+Shift+F", program="pagewright")
    estate = estate_with(house(entry("save", "Control+Shift+F"), pagewright))
    assert clash_of(estate, "same_scope", "save") is None
    assert clash_of(estate, "shadow", "save") is None


def test_an_unbound_command_is_nowhere():
    estate = estate_with(house(entry("lock-cells")))
    assert all(b.command.id != "lock-cells" for b in estate.board("german").bindings)
    assert clash_of(estate, "system_fixed", "lock-cells") is None


def test_a_shortcut_may_be_given_in_another_scope():
    given = Given(keys=read_shortcut("Control+Alt+E"), scope="side")
    moved = Entry(program="tableware", command="euro-fare", platform="windows", shortcuts=(given,))
    estate = estate_with(house(moved))
    assert clash_of(estate, "swallows_text", "euro-fare") is None
    trace = trace_stroke(estate.board("german"), Stroke("KeyE", frozenset({"Control", "Alt"})), "tableware", "grid")
    assert trace.effect.text == "€"


def test_an_entry_for_a_renamed_command_still_counts():
    tableware = next(p for p in programs() if p.id == "tableware")
    commands = tuple(c.model_copy(update={"id": "keep", "was": ("save",)}) if c.id == "save" else c for c in tableware.commands)
    estate = estate_with(house(entry("save", "F6")), commands=commands)
    keep = next(e for e in estate.board("german").setup.commands["tableware"] if e.command.id == "keep")
    assert [str(s) for s, _ in keep.now.shortcuts] == ["F6"]


def test_a_system_hotkey_of_another_edition_is_not_there():
    changed = []
    for p in programs():
        if p.id == "windows":
            commands = tuple(c.model_copy(update={"editions": ("kiosk",)}) if c.id == "lock" else c for c in p.commands)
            p = p.model_copy(update={"commands": commands})
        changed.append(p)
    estate = Estate({s.id: s for s in setups()}, {(p.id, p.version): p for p in changed}, {"house": house()})
    assert clash_of(estate, "system_fixed", "lock-cells") is None


SENTENCES = [
    (
        "german",
        "system_fixed",
        "lock-cells",
        "Windows takes Win L before any program: Lock. Lock cells in Tableware never gets it. Windows can't be told otherwise.",
    ),
    (
        "german",
        "system",
        "picture",
        "Windows takes Druck before any program: Picture. Picture in Tableware never gets it. Windows can switch it off.",
    ),
    (
        "german",
        "swallows_text",
        "euro-fare",
        "Strg Alt E types € on the German keyboard. Euro fare takes it in Grid of Tableware, "
        "and people can no longer type € there. No other press types it.",
    ),
    (
        "german",
        "out_of_reach",
        "hat",
        "Nobody can press Strg ^ here: ^ is only on a dead key of the German keyboard, which starts an accent. "
        "Hat can't be reached by it.",
    ),
    (
        "mac",
        "swallows_text",
        "euro-fare",
        "Option E begins the accent ´ on the US (Mac) keyboard. Euro fare takes it in Grid of Tableware, "
        "and letters with that accent can't be typed there by it.",
    ),
]


@pytest.mark.parametrize("setup, kind, command, says", SENTENCES)
def test_a_clash_is_told_in_the_words_of_its_keyboard(setup, kind, command, says):
    estate = estate_with()
    assert say_clash(clash_of(estate, kind, command, setup), estate.board(setup)) == says


def test_one_press_of_a_sequence_is_enough():
    estate = estate_with()
    clash = clash_of(estate, "system_fixed", "snippet")
    assert clash.stroke == Stroke("Escape", frozenset({"Control", "Shift"}))
    assert "one press of F8 dann Strg Umschalt Esc" in say_clash(clash, estate.board("german"))
