"""Derives core/programs/data/linux.json: what Linux desktops do with presses, from the packages of Debian.

    python tools/derive_desktops.py [FOLDER]

FOLDER holds packages of any of Debian's suites (`apt-get download`, and `apt-get source --download-only` for kwin,
plasma-workspace, plasma-desktop, kscreenlocker and powerdevil). What they say is kept as `tools/desktops/facts.json`, so that
the table can be made again without them; with FOLDER, that file is written anew and what has changed is told.
"""

import dataclasses
import json
import pathlib
import re
import sys
import tempfile
from collections.abc import Iterable
from typing import Any

ROOT = pathlib.Path(__file__).resolve().parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "src")]

from tools.desktops.caret import CARET
from tools.desktops.caret import SOURCE as CARET_SOURCE
from tools.desktops.packages import Read, read, unpack
from tools.desktops.presses import KEYSYMS, from_gtk, from_qt
from tools.desktops.words import LIKELY, WORDS

from amberkey.core.descriptions.key_tables import names_in
from amberkey.core.programs.editions import figures_of

FACTS = ROOT / "tools/desktops/facts.json"
TARGET = ROOT / "src/amberkey/core/programs/data/linux.json"
# As registered in the freedesktop menu specification, with what else inventories call them.
EDITIONS = (
    {"name": "GNOME", "also": ["ubuntu:GNOME", "GNOME-Classic:GNOME"]},
    {"name": "KDE Plasma", "also": ["KDE", "Plasma"]},
    {"name": "XFCE", "also": ["Xfce", "Xubuntu"]},
    {"name": "X-Cinnamon", "also": ["Cinnamon"]},
)
IN_X11 = frozenset(names_in("x11"))
# Where the desktops' settings store keeps what a schema says: the path that the schema itself names.
STORED_IN = {
    "org.gnome.settings-daemon.plugins.media-keys.gschema.xml": "org/gnome/settings-daemon/plugins/media-keys",
    "org.gnome.desktop.wm.keybindings.gschema.xml": "org/gnome/desktop/wm/keybindings",
    "org.gnome.shell.gschema.xml": "org/gnome/shell/keybindings",
    "org.gnome.mutter.gschema.xml": "org/gnome/mutter/keybindings",
    "org.gnome.mutter.wayland.gschema.xml": "org/gnome/mutter/wayland/keybindings",
    "org.cinnamon.desktop.keybindings.gschema.xml": "org/cinnamon/desktop/keybindings",
    "org.cinnamon.desktop.keybindings.wm.gschema.xml": "org/cinnamon/desktop/keybindings/wm",
    "org.cinnamon.desktop.keybindings.media-keys.gschema.xml": "org/cinnamon/desktop/keybindings/media-keys",
}
# What `dconf dump /` writes and `dconf load /` reads. A shortcut that is switched off is an empty list.
STORE = {
    "container": "store",
    "export": {"called": "the settings store of GNOME and Cinnamon", "get": "dconf dump /", "put": "dconf load /"},
    "command": "name",
    "keys": {"at": "value", "form": "list", "unbound": ["empty"]},
    "dialect": {
        "modifiers": {
            "Control": ["<Control>", "<Primary>", "<Ctrl>"],
            "Alt": ["<Alt>", "<Mod1>"],
            "Shift": ["<Shift>"],
            "Meta": ["<Super>", "<Mod4>"],
        },
        "order": ["Meta", "Control", "Alt", "Shift"],
        "letters": "small",
        "table": "x11",
        "keys": {ours: theirs for theirs, ours in KEYSYMS.items() if theirs.startswith("XF86") and ours not in IN_X11},
    },
}
_SLUGS = {"GNOME": "gnome", "KDE Plasma": "plasma", "XFCE": "xfce", "X-Cinnamon": "cinnamon"}
_KINDS = (("gschema.xml", "gsettings schema"), ("settings-schema.json", "settings of an applet"), (".desktop", "desktop file"))


def facts_in(folder: pathlib.Path) -> list[Read]:
    """What the packages of a folder say."""
    with tempfile.TemporaryDirectory() as room:
        return sorted(
            (one for package in unpack(folder, pathlib.Path(room)) for one in read(package)),
            key=lambda r: (r.edition, r.package, figures_of(r.version), r.file),
        )


def kept_facts() -> list[Read]:
    """What was read of packages when the facts were last written."""
    return [Read(**one) for one in json.loads(FACTS.read_text(encoding="utf-8"))]


def differing(old: Iterable[Read], new: Iterable[Read]) -> list[str]:
    """What packages say anew, setting by setting, in sentences; what wasn't read this time is no difference."""
    known: dict[tuple[str, str, str], list[Read]] = {}
    for one in old:
        known.setdefault((one.edition, one.package, one.file), []).append(one)
    found = []
    for read_now in new:
        at = figures_of(read_now.release)
        older = [r for r in known.get((read_now.edition, read_now.package, read_now.file), ()) if figures_of(r.release) <= at]
        before = max(older, key=lambda r: figures_of(r.release), default=None)
        if before is None:
            found.append(f"{read_now.package} {read_now.version}: {read_now.file} is new")
            continue
        for key in sorted(before.presses.keys() | read_now.presses.keys()):
            was, now = before.presses.get(key, []), read_now.presses.get(key, [])
            if was != now:
                where = f"{read_now.package} {before.version} to {read_now.version}"
                found.append(f"{where}: {key} was {', '.join(was) or 'nothing'}, and is {', '.join(now) or 'nothing'}")
    return found


def slug(text: str) -> str:
    """A text as part of an id."""
    return re.sub(r"[^a-z0-9]+", "-", text.lower()).strip("-")


# Settings that are called by the program that they start.
_BY_PROGRAM = re.compile(r"(org\.kde\.|xfce4-|xflock|xfdesktop|exo-open|thunar$|xkill$|orca$|systemsettings$)")


def called(key: str, name: str) -> str:
    """What an id calls a setting: by its key, or by our words where the key is the name of a program."""
    return slug(name if _BY_PROGRAM.match(key) else key.removesuffix("_key"))


def ours(press: str, one: Read) -> str:
    """A press as we write it."""
    qt = one.edition == "KDE Plasma" and not one.package.startswith("xkb")
    return from_qt(press) if qt else from_gtk(press)


def source_of(one: Read) -> dict[str, str]:
    """The source that a reading is, as the table names it."""
    kind = next((words for end, words in _KINDS if one.file.endswith(end)), "")
    if one.package.startswith("source:"):
        kind = "source"
    elif one.package == "xkb-data":
        kind = "keymap of X11"
    release = f" {one.release}" if one.release else ""
    name = one.package.removeprefix("source:")
    stem = pathlib.PurePosixPath(one.file).name.split(".")[-3 if one.file.endswith(".gschema.xml") else 0]
    if kind == "settings of an applet":
        stem = one.file.split("/")[-2].partition("@")[0]
    return {
        "id": slug(f"{name} {one.release or one.version.partition('-')[0]} {stem}")[:80],
        "title": f"{one.edition}{release}, {kind or 'settings as shipped'}" if kind != "keymap of X11" else "X11, keymap",
        "version": one.version,
        "package": name,
        "file": one.file,
    }


def entries(facts: list[Read]) -> Iterable[tuple[dict[str, Any], Read, str]]:
    """The commands of the table, with the reading that each cites and its key there."""
    releases: dict[tuple[str, str], set[str]] = {}
    states: dict[tuple[str, str, str], dict[str, tuple[tuple[str, ...], Read]]] = {}
    for one in facts:
        releases.setdefault((one.edition, one.package), set()).add(one.release)
        for key, presses in one.presses.items():
            said = tuple(dict.fromkeys(p for raw in presses if (p := ours(raw, one))))
            states.setdefault((one.edition, one.package, key), {})[one.release] = (said, one)
    for (edition, package, key), by_release in states.items():
        words = WORDS[edition].get(key)
        if words is None:
            continue
        order = sorted(releases[edition, package], key=figures_of)
        runs: list[tuple[tuple[str, ...], bool, list[str]]] = []
        for release in order:
            said, at = by_release.get(release, ((), None))
            on = at.on if at else True
            if runs and runs[-1][0] == said and runs[-1][1] == on:
                runs[-1][2].append(release)
            else:
                runs.append((said, on, [release]))
        for said, on, span in runs:
            if not said:
                continue
            newest = by_release[span[-1]][1]
            after = order[order.index(span[-1]) + 1 :]
            later = span[0] != order[0] and any(run[0] for run in runs if run[2][-1] == order[order.index(span[0]) - 1])
            yield (
                {
                    "id": f"{_SLUGS[edition]}.{called(key, words.name)}" + (f"-{slug(span[0])}" if later else ""),
                    "name": words.name,
                    "group": words.group,
                    "scope": "everywhere",
                    "defaults": {"linux": list(said)},
                    "grip": words.grip,
                    "editions": [edition],
                    "from_version": span[0] if span[0] != order[0] else "",
                    "gone_from": after[0] if after else "",
                    "only_if": list(words.only_if),
                    "secure": words.secure,
                    "off": not on,
                },
                newest,
                key,
            )


def table(facts: list[Read]) -> dict[str, Any]:
    """The system table of Linux as a program document."""
    found, sources = [], {CARET_SOURCE["id"]: dict(CARET_SOURCE)}
    for entry, one, key in entries(facts):
        cited = source_of(one)
        sources[cited["id"]] = cited
        folder = STORED_IN.get(pathlib.PurePosixPath(one.file).name)
        entry["in_file"] = f"{folder}/{key}" if folder else ""
        lean = {k: v for k, v in entry.items() if v not in ("", [], False) and not (k == "grip" and v == "fixed")}
        found.append({**lean, "cited": {"source": cited["id"], "at": key}})
    read_of = {r.edition for r in facts}
    found += [
        {
            "id": f"{_SLUGS[edition]}.{name}",
            "name": words,
            "group": group,
            "scope": "everywhere",
            "defaults": {"linux": [press]},
            "grip": "can be reassigned",
            "editions": [edition],
        }
        for edition, lines in LIKELY.items()
        if edition in read_of
        for name, words, group, press in lines
    ]
    releases = sorted({(r.edition, r.release) for r in facts if r.release}, key=lambda x: (x[0], figures_of(x[1])))
    caret = [
        {
            **dict(zip(("id", "name", "does", "unit", "keys"), row[:5], strict=True)),
            **({"basic": True} if row[5] else {}),
            **({"task": row[6]} if len(row) > 6 else {}),
            "cited": {"source": CARET_SOURCE["id"], "at": "key bindings"},
        }
        for row in CARET
    ]
    return {
        "format": "amberkey/program@1",
        "id": "linux",
        "name": "Linux",
        "version": "desktop",
        "kind": "system",
        "description": "What a Linux desktop does with a press, before any program hears of it, and how the caret moves in any "
        "text. The editions are those of the freedesktop menu specification; made from the packages of Debian.",
        "platforms": ["linux"],
        "limits": {"bare_keys": True, "sequence_length": 5, "shortcuts_per_command": 9},
        "scopes": [{"id": "everywhere", "name": "Everywhere"}],
        "editions": list(EDITIONS),
        "releases": [{"name": release, "edition": edition} for edition, release in releases],
        "sources": [{k: v for k, v in s.items() if v} for s in sources.values()],
        "settings_files": [STORE],
        "commands": found,
        "caret": caret,
    }


def main() -> None:
    if len(sys.argv) > 1:
        new = facts_in(pathlib.Path(sys.argv[1]))
        if FACTS.exists():
            print("\n".join(differing(kept_facts(), new)) or "nothing has changed")
        text = json.dumps([dataclasses.asdict(r) for r in new], ensure_ascii=False, indent=0)
        FACTS.write_text(text + "\n", encoding="utf-8")
    facts = kept_facts()
    made = table(facts)
    TARGET.write_text(json.dumps(made, ensure_ascii=False, indent=1) + "\n", encoding="utf-8")
    unknown = sorted({(r.edition, k) for r in facts for k in r.presses if k not in WORDS[r.edition]})
    print("no words for:", ", ".join(f"{k} ({e})" for e, k in unknown) or "none")
    for edition in EDITIONS:
        of = [c for c in made["commands"] if edition["name"] in c["editions"]]
        print(edition["name"], len(of), "entries,", len({p for c in of for p in c["defaults"]["linux"]}), "presses")
    print(f"{TARGET.relative_to(ROOT)}: {len(made['commands'])} entries, {TARGET.stat().st_size / 1024:.0f} kB")


if __name__ == "__main__":
    main()
