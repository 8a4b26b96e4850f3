"""What a desktop keeps of its own keys in its settings store: read from and written to the store's text export."""

import pytest

from amberkey.core.exchange.from_file import as_profile, readings
from amberkey.core.exchange.rendering import files_of_profile, render
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.programs.reference import system_tables
from amberkey.core.programs.settings_files import read_settings, write_settings

LINUX = next(t for t in system_tables() if t.id == "linux")
HOW = LINUX.settings_files[0]
EXPORT = b"""[org/gnome/desktop/interface]
clock-format='24h'
text-scaling-factor=1.25

[org/gnome/desktop/wm/keybindings]
close=['<Super>q', '<Alt>F4']
minimize=@as []
switch-windows=['<Alt>Tab']

[org/gnome/settings-daemon/plugins/media-keys]
custom-keybindings=['/org/gnome/settings-daemon/plugins/media-keys/custom-keybindings/custom0/']
screensaver=['<Control><Alt>l']
"""


def test_an_export_says_what_was_reassigned_and_what_was_switched_off():
    read = read_settings(EXPORT, LINUX, HOW)
    assert read.entries["gnome.close"] == (read_shortcut("Meta+Q"), read_shortcut("Alt+F4"))
    assert read.entries["gnome.minimize"] == ()
    assert read.entries["gnome.screensaver"] == (read_shortcut("Control+Alt+L"),)
    assert read.unread == ()


def test_it_becomes_a_profile_of_what_is_otherwise_than_shipped():
    (read,) = readings(EXPORT, "export.txt", [LINUX])
    profile = as_profile(read, "Export")
    found = {e.command: [str(g.keys) for g in e.shortcuts] for e in profile.entries}
    assert found["gnome.minimize"] == []
    assert found["gnome.screensaver"] == ["Control+Alt+L"]
    assert "gnome.close" in found


def test_writing_into_it_changes_our_settings_alone():
    wanted = {"gnome.screensaver": (read_shortcut("Meta+L"),), "gnome.close": (), "gnome.lower": (read_shortcut("Meta+F12"),)}
    written = write_settings(EXPORT, LINUX, HOW, wanted).data
    assert read_settings(written, LINUX, HOW).entries.items() >= wanted.items()
    kept = [line for line in EXPORT.splitlines() if line and not line.startswith((b"screensaver", b"close"))]
    assert [line for line in written.splitlines() if line in kept] == kept
    said = dict(read_settings(EXPORT, LINUX, HOW).entries)
    assert write_settings(EXPORT, LINUX, HOW, said).data == EXPORT


def test_what_a_profile_sets_goes_out_as_an_export_with_how_to_put_it_back():
    (read,) = readings(EXPORT, "export.txt", [LINUX])
    (file,) = files_of_profile(as_profile(read, "Export"), {"linux": LINUX})
    assert (file.export.put, file.path) == ("dconf load /", "linux-store.txt")
    assert b"minimize=@as []" in file.data
    # Only what the profile sets: loading it leaves everything else in the store as it is.
    assert file.data.count(b"=") == len(file.commands)


def test_nearly_every_shortcut_of_the_stores_desktops_can_be_written_and_read():
    wanted = {c.id: c.defaults_on("linux") for c in LINUX.commands if c.in_file and c.defaults_on("linux")}
    data, wrote, left = render(LINUX, HOW, wanted)
    assert len(wrote) > 190
    assert len(left) < 8
    assert read_settings(data, LINUX, HOW).entries == {i: wanted[i] for i in wrote}


@pytest.mark.parametrize("edition", ["KDE Plasma", "XFCE"])
def test_what_no_writer_covers_is_not_said_to_be_in_the_store(edition):
    others = [c for c in LINUX.commands if c.editions == (edition,)]
    assert not any(c.in_file for c in others)
    _, wrote, left = render(LINUX, HOW, {others[0].id: (read_shortcut("F9"),)})
    assert (wrote, left) == ((), (f"{others[0].name}: it isn't kept in the settings store of GNOME and Cinnamon.",))
