import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import trace_stroke
from amberkey.core.clashes.wording import say_clash
from amberkey.core.compare.operations import apply
from amberkey.core.documents.model import read_document
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.strokes import Made, Stroke, strokes_of
from amberkey.core.profiles.errors import MissingPart
from amberkey.core.profiles.model import Entry, Given, Profile
from amberkey.core.ways.proposing import assign, move_to, ways_out
from tests.core.estate_fixture import estate, load, programs

ESTATE = estate()
SETUPS = sorted(ESTATE.setups)


def told(clash):
    name = lambda b: f"{b.program.id}/{b.command.id}" if b else None  # noqa: E731
    return {
        "kind": clash.kind,
        "severity": clash.severity,
        "loser": name(clash.loser),
        "holder": name(clash.holder),
        "text": clash.text,
    }


def in_order(clashes):
    return sorted(clashes, key=lambda c: (c["kind"], str(c["loser"]), str(c["holder"])))


def house(*entries):
    return Profile(id="house", name="House", entries=entries)


def entry(command, *keys, program="tableware", platform="windows", **more):
    shortcuts = tuple(Given(keys=read_shortcut(k)) for k in keys)
    return Entry(program=program, command=command, platform=platform, shortcuts=shortcuts, **more)


@pytest.mark.parametrize("setup", SETUPS)
def test_each_lens_has_exactly_its_clashes(setup):
    assert in_order(map(told, ESTATE.clashes(setup))) == in_order(load("expected_clashes.json")[setup])


@pytest.mark.parametrize("setup", SETUPS)
def test_every_clash_is_told_with_both_names(setup):
    for clash in ESTATE.clashes(setup):
        says = say_clash(clash, ESTATE.board(setup))
        assert all(b.command.name in says for b in (clash.holder, clash.loser) if b)


def test_two_spellings_that_meet_are_said_to():
    clash = next(c for c in ESTATE.clashes("german") if c.spellings_meet and c.loser.program.id == "tableware")
    says = say_clash(clash, ESTATE.board("german"))
    assert "Control+/ and Control+Shift+7" in says.replace("Control+Shift+7 and Control+/", "Control+/ and Control+Shift+7")
    assert "on the German keyboard" in says


@given(st.permutations(programs()))
def test_order_of_programs_changes_neither_clashes_nor_identities(order):
    for setup in SETUPS:
        shuffled = estate(program_list=list(order))
        assert {c.identity for c in shuffled.clashes(setup)} == {c.identity for c in ESTATE.clashes(setup)}


def test_identity_outlives_version_layer_and_setup():
    before = {c.identity for c in ESTATE.clashes("german")}
    newer = [p.model_copy(update={"version": "2"}) for p in programs()]
    setups = {
        i: s.model_copy(update={"programs": tuple(u.model_copy(update={"version": "2"}) for u in s.programs)})
        for i, s in ESTATE.setups.items()
    }
    same = entry("lock-cells", "Meta+L")
    moved = Estate(setups, {(p.id, p.version): p for p in newer}, {"house": house(same)})
    assert {c.identity for c in moved.clashes("german")} == before


@pytest.mark.parametrize("setup", SETUPS)
def test_trace_and_clashes_agree_on_who_takes_the_press(setup):
    board = ESTATE.board(setup)
    checked = 0
    for clash in ESTATE.clashes(setup):
        if clash.stroke is None or len(clash.subject.shortcut.presses) > 1:
            continue
        trace = trace_stroke(board, clash.stroke, clash.subject.program.id, clash.subject.scope)
        assert trace.taken_at == clash.station
        assert trace.effect.binding is clash.holder
        checked += 1
    assert checked >= 4


@pytest.mark.parametrize(
    "setup, text, focus, taken_at, effect",
    [
        ("german", "Meta+L", ("tableware", "grid"), "system", "command"),
        ("german", "PrintScreen", ("tableware", "grid"), "system", "command"),
        ("german", "Control+code:KeyS", ("tableware", "grid"), "program", "command"),
        ("german", "Control+Alt+code:KeyE", ("tableware", "side"), None, "nothing"),
        ("german", "Control+Alt+code:KeyE", ("pagewright", "page"), "text", "text"),
        ("german", "code:Equal", ("pagewright", "page"), "text", "accent"),
        ("german", "F8", ("pagewright", "page"), "program", "wait"),
        ("american", "Control+Alt+code:KeyE", ("pagewright", "page"), None, "nothing"),
        ("mac", "Alt+code:KeyE", ("pagewright", "page"), "text", "accent"),
    ],
)
def test_the_trace_ends_in_one_effect(setup, text, focus, taken_at, effect):
    press = read_shortcut(text).presses[0]
    board = ESTATE.board(setup)
    made = strokes_of(press, board.setup.layout, "character")
    assert isinstance(made, Made)
    trace = trace_stroke(board, made.strokes[0], *focus)
    assert (trace.taken_at, trace.effect.kind) == (taken_at, effect)


def test_the_nearest_layer_wins_and_says_what_it_hid():
    person = Profile(id="person", name="Person", entries=(entry("save", "F6"),))
    setups = {"german": ESTATE.setups["german"].model_copy(update={"layers": ("house", "person")})}
    both = Estate(setups, ESTATE.programs, {"house": house(entry("save", "F5")), "person": person})
    save = next(e for e in both.board("german").setup.commands["tableware"] if e.command.id == "save")
    assert [str(s) for s, _ in save.now.shortcuts] == ["F6"]
    assert [(s.layer, [str(k) for k, _ in s.shortcuts]) for s in save.hid] == [("house", ["F5"]), ("default", ["Control+S"])]


def test_an_entry_for_the_very_layout_beats_one_for_all():
    profile = house(entry("save", "F5"), entry("save", "F6", layouts=("de",)))
    both = estate(profile)
    assert {str(b.shortcut) for b in both.board("german").bindings if b.command.id == "save" and b.layer == "house"} == {"F6"}
    assert {str(b.shortcut) for b in both.board("american").bindings if b.command.id == "save" and b.layer == "house"} == {"F5"}


@pytest.mark.parametrize("setup", SETUPS)
def test_a_way_out_does_what_it_promises(setup):
    """Recomputed from the saved bytes: what it says it solves is gone, what it says it makes is there, nothing else changed."""
    tried = 0
    for group in ESTATE.groups([setup]):
        for way in ways_out(ESTATE, group, "house"):
            if way.kind == "allow":
                continue
            document = apply(ESTATE.profiles["house"].to_json(), way.changes["house"])
            after = estate(read_document(document, {"amberkey/profile@1": Profile}))
            before_ids = {c.identity for s in SETUPS for c in ESTATE.clashes(s)}
            after_ids = {c.identity for s in SETUPS for c in after.clashes(s)}
            assert before_ids - after_ids == {g.clash.identity for g in way.consequences.solves}
            assert after_ids - before_ids == {g.clash.identity for g in way.consequences.makes}
            assert group.clash.identity not in after_ids
            if way.kind == "move":
                assert way.consequences.makes == ()
            tried += 1
    assert tried > 5


def test_taking_over_leaves_the_holder_without_the_press():
    group = next(g for g in ESTATE.groups(["german"]) if g.clash.kind == "system")
    way = next(w for w in ways_out(ESTATE, group, "house") if w.kind == "take_over")
    document = apply(ESTATE.profiles["house"].to_json(), way.changes["house"])
    after = estate(read_document(document, {"amberkey/profile@1": Profile}))
    trace = trace_stroke(after.board("german"), Stroke("PrintScreen", frozenset()), "tableware", "grid")
    assert trace.effect.binding.command.id == "picture"
    assert trace.effect.binding.program.id == "tableware"


def test_a_fixed_hotkey_cannot_be_taken_over():
    group = next(g for g in ESTATE.groups(["german"]) if g.clash.kind == "system_fixed")
    assert "take_over" not in {w.kind for w in ways_out(ESTATE, group, "house")}


def test_a_choice_of_ones_own_is_judged_like_any_other():
    group = next(g for g in ESTATE.groups(["german"]) if g.clash.subject.command.id == "lock-cells")
    way = move_to(ESTATE, group, read_shortcut("Control+Shift+Escape"), "house")
    assert [g.clash.kind for g in way.consequences.makes] == ["system_fixed"]


def test_nobody_relearns_where_the_layer_is_not_in_use():
    spare = Profile(id="spare", name="Spare")
    with_spare = estate(spare)
    group = next(iter(with_spare.groups(["german"])))
    way = next(w for w in ways_out(with_spare, group, "spare") if w.kind == "move")
    told_consequences = way.consequences
    assert (told_consequences.people, told_consequences.solves) == (0, ())
    assert {s.id for s in told_consequences.remains} == {s.id for s in group.setups}


def test_a_clash_that_one_setup_has_already_is_made_in_another():
    german_only = estate(house(entry("save", "Control+Shift+S", layouts=("de",))))
    there = {g.clash.identity for g in german_only.groups(["german"]) if g.clash.kind == "shadow"}
    assert len(there) == 1
    shortcuts = ((read_shortcut("Control+Shift+S"), None),)
    _, told_consequences = assign(german_only, ("tableware", "save"), "american", shortcuts, "house")
    made = [(g.clash.identity, [s.id for s in g.setups]) for g in told_consequences.makes]
    assert made == [(*there, ["american"])]
    assert told_consequences.setups == ("american",)


def test_a_setup_that_names_what_is_not_there_is_refused():
    setups = {"german": ESTATE.setups["german"].model_copy(update={"layers": ("attic",)})}
    with pytest.raises(MissingPart, match="attic"):
        Estate(setups, ESTATE.programs, ESTATE.profiles).clashes("german")
