"""What the simulated machines of the example keep in their settings files: one program for each container.

Each has been used: with settings that are none of ours, comments, and shortcuts that somebody set.
"""

from collections.abc import Mapping

STORE = """[org/gnome/desktop/interface]
clock-format='24h'

[org/gnome/desktop/wm/keybindings]
close=['<Super>q', '<Alt>F4']
minimize=@as []
"""
"""What somebody set on a desktop that keeps its keys in a settings store."""

SETTINGS: Mapping[str, str] = {
    "quaysheet": """{
  "window": { "left": 40, "top": 60, "zoom": 1.25 },
  "recent": ["sailings-autumn.qs", "tariffs.qs"],
  "keyboard": {
    "hints": true,
    "own": [
      { "do": "recalculate", "on": ["f9", "ctl-f9"], "since": "7.0" }
    ]
  },
  "printer": "Westquay counter"
}
""",
    "boardwright": """<?xml version="1.0" encoding="utf-8"?>
<boardwright>
  <till name="Westquay 3"/>
  <keys>
    <!-- set at the counter -->
    <key for="new-sale" press="F2"/>
  </keys>
</boardwright>
""",
    "folioform": """# Folioform 4
page: a4
keys:
  save: [C-s]   # as ever
  save-under-another-name:
    - C-S-s
recent: [timetable.ff]
""",
    "wherrymail": """# Wherrymail
signature = "Merrow Strait Ferries"

[[bind]]
command = "write-a-message"
mods = ["ctrl"]
key = "n"
""",
    "panehand": """# panes of this machine
gap 4
pane left-half on <Super>Left
pane right-half on <Super>Right
""",
    "kedgenote": """# kept texts
folder = Kept texts
show-the-shelf=control shift SPACE
""",
    "slatecast": """Command;Key;Second key;Note
save;^s;;"as; ever"
""",
    "tidewarden": """; written by Tidewarden 6.4
[window]
width=1180

[keys]
save=ctl~s
""",
}
