"""The shipped tables at work: an entry takes its press in every setup for which its conditions hold, and in no other."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import Focus, trace_heard
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.keyboard import ways_of
from amberkey.core.programs.reference import system_tables
from tests.core.estates import read
from tests.core.scenes import command, program

TABLES = {t.platforms[0]: t for t in system_tables()}
LAYOUTS = {
    "windows": (("us", "iso"), ("de", "iso"), ("pl", "ansi"), ("gr", "iso"), ("br", "abnt2"), ("jp", "jis")),
    "linux": (("us", "iso"), ("fr(azerty)", "iso"), ("ru", "iso"), ("us", "iso-laptop")),
    "macos": (("us(mac)", "mac-iso"), ("se(mac)", "mac-iso-laptop"), ("jp(mac)", "mac-jis-laptop")),
}
HAS = ("several layouts", "several displays")
OFFICE = {p: program(p, "office", "office", [command("nothing", "window")]) for p in TABLES}


def estate(platform, edition, version, layout, has, on, off):
    layout, body = layout
    table = TABLES[platform]
    setup = {
        "format": "amberkey/setup@1",
        "id": "here",
        "name": "Here",
        "place": "here",
        "platform": platform,
        "edition": edition,
        "edition_version": version,
        "layout": layout,
        "body": body,
        "people": 1,
        "machines": 1,
        "has": list(has),
        "programs": [{"id": table.id, "version": table.version, "on": on, "off": off}, {"id": "office", "version": "1"}],
    }
    programs = {(table.id, table.version): table, ("office", "1"): read(OFFICE[platform])}
    return Estate({"here": read(setup)}, programs, {}, today=None)


def made_by(board, keys):
    """The ways that make a shortcut here, as its system reads them."""
    platform = board.ground.platform
    return ways_of(keys.resolve(platform), board.ground.keyboard, TABLES[platform].reads_on(platform)).ways


def takers(made, keys):
    """Who takes the presses of a shortcut, by every way that makes it here."""
    board = made.board("here")
    table = TABLES[board.ground.platform]
    ways = made_by(board, keys)
    found = [trace_heard(board, way, Focus("office", "window"))[-1].effect.binding for way in ways]
    return {b.command.id for b in found if b is not None and b.program.id == table.id}, bool(ways)


@st.composite
def cases(draw):
    platform = draw(st.sampled_from(sorted(TABLES)))
    table = TABLES[platform]
    entry = draw(st.sampled_from(table.commands))
    edition = draw(st.sampled_from([e.name for e in table.editions]))
    version = draw(st.sampled_from(["", *(r.name for r in table.releases if r.edition in (None, edition))]))
    switched = draw(st.sampled_from(["", "", "on", "off"]))
    has = tuple(h for h in HAS if draw(st.booleans()))
    return platform, entry, edition, version, draw(st.sampled_from(LAYOUTS[platform])), has, switched


@given(cases(), st.data())
def test_an_entry_takes_its_press_where_its_conditions_hold_and_nowhere_else(case, data):
    platform, entry, edition, version, layout, has, switched = case
    on, off = ([entry.id] if switched == which else [] for which in ("on", "off"))
    keys = data.draw(st.sampled_from(entry.defaults_on(platform)))
    here = estate(platform, edition, version, layout, has, on, off)
    taken, made_here = takers(here, keys)
    table = TABLES[platform]
    holds = (
        (not entry.editions or edition in entry.editions)
        and not table.why_not_in(entry, version)
        and set(entry.only_if) <= set(has)
        and switched != "off"
        and (not entry.off or switched == "on")
    )
    # What begins with a press that is taken by itself never gets to its end.
    sooner = any(s.presses == keys.presses[:-1] for c in table.commands for s in c.defaults_on(platform))
    expected = holds and made_here and not sooner
    if expected and entry.id not in taken:  # where a digit wants Shift, it is one stroke with Shift and without: one gets it
        board = here.board("here")
        others = [s for c in table.commands if c.id in taken for s in c.defaults_on(platform)]
        assert any(set(made_by(board, s)) & set(made_by(board, keys)) for s in others), (entry.id, taken)
        return
    assert (entry.id in taken) == expected, (entry.id, taken)


def test_with_and_without_shift_is_one_stroke_where_a_digit_wants_shift():
    azerty = estate("linux", "X-Cinnamon", "", ("fr(azerty)", "iso"), (), [], [])
    plain, shifted = (read_shortcut(k) for k in ("Meta+1", "Shift+Meta+1"))
    assert set(made_by(azerty.board("here"), plain)) == set(made_by(azerty.board("here"), shifted))
    assert takers(azerty, plain) == takers(azerty, shifted)


@pytest.mark.parametrize(
    ("platform", "edition", "keys", "takes"),
    [
        ("linux", "GNOME 48", "Meta+S", "gnome.toggle-quick-settings"),
        ("linux", "GNOME 43", "Meta+S", "gnome.toggle-overview"),
        ("linux", "GNOME 48", "Meta+I", None),
        ("linux", "GNOME 48", "Control+Alt+ArrowLeft", "gnome.switch-to-workspace-left"),
        ("linux", "KDE Plasma 6.3", "Control+Alt+ArrowLeft", None),
        ("linux", "KDE Plasma 6.3", "Control+Meta+ArrowLeft", "plasma.switch-one-desktop-to-the-left"),
        ("linux", "KDE Plasma 6.3", "Control+Meta+I", None),  # the effect ships switched off
        ("linux", "KDE Plasma", "Meta+I", None),
        ("linux", "XFCE 4.20", "Control+Alt+ArrowLeft", "xfce.left-workspace"),
        ("linux", "XFCE", "Meta+L", None),
        ("linux", "X-Cinnamon", "Meta+L", "cinnamon.looking-glass-keybinding"),
        ("linux", "X-Cinnamon", "Control+Alt+L", "cinnamon.screensaver"),
        ("windows", "11 Pro", "Meta+Z", "arrangements"),
        ("windows", "10 Pro", "Meta+Z", None),
        ("windows", "11 Pro 21H2", "Control+Meta+V", None),
        ("windows", "11 Pro", "Alt+Space", "window-menu"),
        ("windows", "11 Pro", "Control+Meta+C", None),  # off until somebody switches it on
        ("macos", "15", "Alt+Meta+8", None),  # off until somebody switches it on
        ("macos", "15", "Control+Alt+Meta+8", None),
        ("macos", "14", "Control+Fn+F", None),
        ("macos", "15", "Control+Fn+F", "tile-fill"),
        ("macos", "15", "Shift+Meta+Y", "note"),
    ],
)
def test_presses_that_desktops_take_and_leave(platform, edition, keys, takes):
    made = estate(platform, edition, "", LAYOUTS[platform][0], (), [], [])
    found, _ = takers(made, read_shortcut(keys))
    assert found == ({takes} if takes else set())


def with_office(platform, edition, keys, table=None, **used):
    table = table or TABLES[platform]
    layout, body = LAYOUTS[platform][0]
    own = program(platform, "office", "office", [command("mine", "window", keys)])
    setup = {
        "format": "amberkey/setup@1",
        "id": "here",
        "name": "Here",
        "place": "here",
        "platform": platform,
        "edition": edition,
        "layout": layout,
        "body": body,
        "people": 1,
        "machines": 1,
        "programs": [{"id": table.id, "version": table.version, **used}, {"id": "office", "version": "1"}],
    }
    programs = {(table.id, table.version): table, ("office", "1"): read(own)}
    return [(c.kind, c.severity) for c in Estate({"here": read(setup)}, programs, {}, today=None).clashes("here")]


@pytest.mark.parametrize(
    ("platform", "edition", "keys"),
    [
        ("windows", "11 Pro", "Control+Meta+C"),  # off
        ("windows", "11 Pro", "Control+Shift"),  # one layout only
        ("windows", "10 Pro", "Meta+Z"),  # a later version's
        ("linux", "GNOME", "Control+Alt+D"),  # another edition's
        ("linux", "XFCE", "Meta+A"),
        ("macos", "15", "Control+3"),  # off
    ],
)
def test_what_an_entry_does_not_take_here_is_no_clash(platform, edition, keys):
    assert with_office(platform, edition, keys) == []


@pytest.mark.parametrize(("platform", "edition", "keys"), [("windows", "11 Pro", "Alt+F4"), ("macos", "15", "Shift+Meta+L")])
def test_where_programs_go_first_the_clash_is_a_mild_one_and_the_program_has_the_press(platform, edition, keys):
    assert with_office(platform, edition, keys) == [("goes_first", "medium")]


def test_an_entry_that_is_only_likely_makes_no_blocker():
    table = TABLES["windows"]
    sure = [("system_fixed", "blocker")]
    assert with_office("windows", "11 Pro", "Control+Shift+Escape") == sure
    commands = tuple(c.model_copy(update={"cited": None}) if c.id == "task-list" else c for c in table.commands)
    likely = table.model_copy(update={"commands": commands})
    assert with_office("windows", "11 Pro", "Control+Shift+Escape", likely) == [("system_fixed", "high")]
    # A table that an organisation wrote down itself names no sources, and is believed.
    own = likely.model_copy(update={"sources": (), "commands": tuple(c.model_copy(update={"cited": None}) for c in commands)})
    assert with_office("windows", "11 Pro", "Control+Shift+Escape", own) == sure
