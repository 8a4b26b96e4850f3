"""Where the table of Linux desktops comes from: ways of writing a press, what packages say, and what became of it."""

import dataclasses
import json
import shutil

import pytest
from tools import derive_desktops
from tools.desktops import packages, reading
from tools.desktops.packages import Read
from tools.desktops.presses import from_gtk, from_qt, qt_expressions
from tools.desktops.words import WORDS

from amberkey.core.keys.reading import read_shortcut


@pytest.mark.parametrize(
    ("written", "press"),
    [
        *(("<Alt>F4", "Alt+F4"), ("<Primary><Alt>Page_Up", "Control+Alt+PageUp"), ("<Super>Above_Tab", "Meta+code:Backquote")),
        *(("<Shift><Super>space", "Shift+Meta+Space"), ("Super_L", "Meta"), ("XF86AudioMute", "AudioVolumeMute")),
        *(("<Super>KP_Page_Up", "Meta+code:Numpad9"), ("<Control><Alt>KP_3", "Control+Alt+code:Numpad3")),
        *(("<Super>v", "Meta+V"), ("<Alt><Super>equal", "Alt+Meta+="), ("XF86Battery", ""), ("disabled", "")),
    ],
)
def test_a_press_as_gtk_writes_it(written, press):
    assert from_gtk(written) == press


@pytest.mark.parametrize(
    ("written", "press"),
    [
        *(("Meta+Ctrl+Esc", "Control+Meta+Escape"), ("Alt+Space", "Alt+Space"), ("Meta+Shift+S", "Shift+Meta+S")),
        *(("Ctrl++", "Control+Plus"), ("Print", "PrintScreen"), ("Launch (1)", "LaunchApp2"), ("Battery", "")),
    ],
)
def test_a_press_as_qt_writes_it(written, press):
    assert from_qt(written) == press


def test_presses_in_a_statement_of_a_source():
    code = "setDefaultShortcut(a, {Qt::META | Qt::Key_Plus, Qt::CTRL | Qt::ALT | Qt::Key_L}, Qt::ShiftModifier | Qt::Key_F5);"
    assert qt_expressions(code) == ["Meta+Plus", "Ctrl+Alt+L", "Shift+F5"]


def test_a_schema_is_read_without_what_is_no_press_and_without_old_names(tmp_path):
    file = tmp_path / "x.gschema.xml"
    file.write_text(
        """<schemalist><schema id="org.x.keys">
        <key name="one"><default>['&lt;Super&gt;a', 'XF86Battery']</default></key>
        <key name="none"><default>@as []</default></key>
        <key name="word"><default>'left'</default></key>
        <key name="number"><default>3</default></key></schema>
        <schema id="org.x.deprecated"><key name="old"><default>'&lt;Super&gt;b'</default></key></schema></schemalist>"""
    )
    assert reading.gsettings(file) == {"one": ["<Super>a"]}


FACTS = derive_desktops.kept_facts()


def test_the_table_is_what_the_kept_facts_make():
    assert json.loads(derive_desktops.TARGET.read_text(encoding="utf-8")) == derive_desktops.table(FACTS)


def test_every_setting_that_was_read_has_our_words_and_a_press_that_we_can_read():
    for one in FACTS:
        for key, presses in one.presses.items():
            assert WORDS[one.edition][key].name
            for press in presses:
                assert read_shortcut(derive_desktops.ours(press, one)).presses


def made(*reads):
    return {c["id"]: c for c in derive_desktops.table(list(reads))["commands"]}


def reading_of(release, **presses):
    return Read(
        "GNOME",
        release,
        "mutter-common",
        f"{release}.1",
        "a.b.gschema.xml",
        {k.replace("_", "-"): v for k, v in presses.items()},
    )


def test_what_stays_between_versions_is_one_entry_and_cites_the_newest():
    (entry,) = made(reading_of("43", switch_monitor=["<Super>p"]), reading_of("48", switch_monitor=["<Super>p"])).values()
    assert entry["defaults"] == {"linux": ["Meta+P"]}
    assert not {"from_version", "gone_from"} & entry.keys()
    assert "48" in entry["cited"]["source"]


def test_what_changes_between_versions_is_two_entries_that_meet():
    found = made(reading_of("43", switch_monitor=["<Super>p"]), reading_of("48", switch_monitor=["<Super>o"]))
    old, new = found["gnome.switch-monitor"], found["gnome.switch-monitor-48"]
    assert (old["defaults"]["linux"], old["gone_from"]) == (["Meta+P"], "48")
    assert (new["defaults"]["linux"], new["from_version"]) == (["Meta+O"], "48")


def test_what_comes_or_goes_says_from_which_version():
    found = made(reading_of("43", switch_monitor=["<Super>p"]), reading_of("48", toggle_tiled_left=["<Super>Left"]))
    assert found["gnome.switch-monitor"]["gone_from"] == "48"
    assert found["gnome.toggle-tiled-left"]["from_version"] == "48"


def test_what_ships_switched_off_is_off():
    off = dataclasses.replace(reading_of("48", switch_monitor=["<Super>p"]), on=False)
    assert made(off)["gnome.switch-monitor"]["off"] is True


def test_a_newer_package_is_told_setting_by_setting():
    old = [reading_of("43", switch_monitor=["<Super>p"], close=["<Alt>F4"]), reading_of("48", switch_monitor=["<Super>p"])]
    new = [reading_of("49", switch_monitor=["<Super>o"])]
    assert derive_desktops.differing(old, new) == ["mutter-common 48.1 to 49.1: switch-monitor was <Super>p, and is <Super>o"]
    assert derive_desktops.differing(old, old) == []


def test_packages_that_can_be_had_here_say_what_was_kept(tmp_path):
    """Asks apt for this machine's own packages; where it can't have them, nothing can be compared."""
    if shutil.which("dpkg-deb") is None or not packages.fetch(packages.SMALL, tmp_path):
        pytest.skip("apt can't have the packages of the desktops here")
    found = derive_desktops.facts_in(tmp_path)
    assert {r.edition for r in found} >= {"GNOME", "X-Cinnamon", "XFCE"}
    kept = {(r.edition, r.release, r.file): r.presses for r in FACTS}
    for one in found:
        at = (one.edition, one.release, one.file)
        if at in kept:
            assert one.presses == kept[at], at
    said = derive_desktops.differing(FACTS, found)
    assert all(" to " in line or " is new" in line for line in said)


def test_sources_of_plasma_are_read_where_they_lie(tmp_path):
    root = tmp_path / "kwin-9"
    (root / "src/plugins/zoom").mkdir(parents=True)
    (root / "src/plugins/zoom/zoom.cpp").write_text("setDefaultShortcut(a, QList() << (Qt::META | Qt::Key_Plus));")
    (root / "src/plugins/zoom/metadata.json").write_text('{"KPlugin": {"EnabledByDefault": false}}')
    actions = 'initShortcut("Window Close", i18n("x"),\n Qt::ALT | Qt::Key_F4, &f);\ninitShortcut("Window Maximize", 0);'
    (root / "src/useractions.cpp").write_text(actions)
    found = packages.read(packages.Package("source:kwin", "9.1.2", root))
    assert [(r.release, r.presses, r.on) for r in found] == [
        ("9.1", {"Window Close": ["Alt+F4"]}, True),
        ("9.1", {"zoom.in": ["Meta+Plus"]}, False),
    ]
