"""Drawn estates: few keys and many ways to meet, so that every kind of clash turns up by chance."""

import datetime
import random

from hypothesis import strategies as st

from amberkey.core.clashes.estate import Estate
from amberkey.core.documents.model import read_document
from amberkey.core.formats import FORMATS
from amberkey.core.keys.platform import Platform

TODAY = datetime.date(2026, 11, 24)
KEYBOARDS: dict[Platform, list[tuple[str, str]]] = {
    "windows": [("de", "iso"), ("us", "ansi-no-pad"), ("fr(azerty)", "iso-laptop")],
    "linux": [("de", "iso"), ("us", "ansi"), ("se", "iso-no-pad")],
    "macos": [("us(mac)", "mac-ansi"), ("de(mac)", "mac-iso-laptop")],
}
HELD = ("Control", "Control", "Control+Shift", "Alt", "Control+Alt", "Shift", "", "AltGraph", "Meta")
RARELY_HELD = ("ControlRight", "ControlLeft", "ShiftLeft", "Control+AltRight", "Fn")
KEYS = ("E", "/", "7", "8", "ArrowLeft", "Home", "F8", "Insert", "Ö", "code:Numpad7", "Delete", "code:Numpad4", "Enter")
METHOD = {"name": "Composer", "takes": ["Control+7"], "composing": ["F8", "ArrowLeft", "Enter"]}
TASKS = {
    "format": "amberkey/tasks@1",
    "id": "tasks",
    "name": "Tasks",
    "tasks": [
        {"id": "save", "name": "Save", "protected": True, "usual": {p: ["Control+E"] for p in ("windows", "linux", "macos")}},
        {"id": "next", "name": "Next"},
        {"id": "back", "name": "Back"},
    ],
    "families": [{"id": "walk", "name": "Walk", "step": "shift", "members": ["next", "back"]}],
}


def read(value):
    return read_document(value, FORMATS)


def press(rnd: random.Random) -> str:
    held = rnd.choice(HELD if rnd.random() < 0.97 else RARELY_HELD)
    return f"{held}+{rnd.choice(KEYS)}" if held else rnd.choice(KEYS)


def shortcut(rnd: random.Random, sequences: bool = True) -> str | list[str]:
    return [rnd.choice((press(rnd), "F8", "Control+7")), press(rnd)] if sequences and rnd.random() < 0.25 else press(rnd)


def program(rnd: random.Random, name: str, kind: str, platform: Platform, scopes: list[dict], **more) -> dict:
    commands = []
    for n in range(rnd.randint(2, 7)):
        own = [shortcut(rnd, kind not in ("system", "utility", "browser")) for _ in range(rnd.choice((1, 1, 2)))]
        command = {"id": f"do-{n}", "name": f"Do {n}", "scope": rnd.choice(scopes)["id"], "defaults": {platform: own}}
        if kind == "system":
            command |= system_entry(rnd)
            if rnd.random() < 0.1:
                command["defaults"] = {platform: [["Shift", "Shift"]]}
        elif kind == "browser" and rnd.random() < 0.5:
            command |= rnd.choice(({"keeps": True}, {"in_own_window": True}, {"in_full_screen": False, "keeps": True}))
        elif rnd.random() < 0.4:
            command["task"] = rnd.choice(("save", "next", "back"))
        if kind == "office" and rnd.random() < 0.1:
            command["document"] = rnd.choice(("open.doc", "shut.doc"))
        commands.append(command)
    return {
        "format": "amberkey/program@1",
        "id": name,
        "name": name.title(),
        "version": "1",
        "kind": kind,
        "platforms": [platform],
        "scopes": scopes,
        "commands": commands,
        **more,
    }


def system_entry(rnd: random.Random) -> dict:
    """How the system holds a press, and when it has it."""
    own: dict = {"grip": rnd.choice(("fixed", "can be switched off", "can be reassigned", "programs go first"))}
    if rnd.random() < 0.2:
        own["secure"] = True
    if rnd.random() < 0.15:
        own["off"] = True
    if rnd.random() < 0.15:
        own["only_if"] = [rnd.choice(("several layouts", "input method", "several displays"))]
    if rnd.random() < 0.1:
        own["from_version"] = "24H2"
    return own


def window(rnd: random.Random) -> list[dict]:
    scopes = [{"id": "window", "name": "Window", "takes_text": rnd.random() < 0.2}]
    for n in range(rnd.randint(0, 3)):
        parent = rnd.choice(scopes)["id"]
        scopes.append({"id": f"part-{n}", "name": f"Part {n}", "parent": parent, "takes_text": rnd.random() < 0.5})
    return scopes


def habits(rnd: random.Random) -> dict:
    return {
        "limits": {"sequence_length": 2, "bare_keys": rnd.random() < 0.7, "shortcuts_per_command": rnd.choice((1, 2, 9))},
        "on_prefix": rnd.choice(
            ({}, {"wins": "short"}, {"wins": "long", "waits_ms": 500}, {"wins": "long", "across_scopes": True})
        ),
        "on_tie": rnd.choice(("first", "last", "either")),
        "scope_order": rnd.choice(("inner", "inner", "outer")),
        "pad_counts": rnd.random() < 0.3,
        "after_miss": rnd.choice(("drop", "replay")),
        **rnd.choice(({}, {"menus": [{"letter": "E", "name": "Edit"}]})),
    }


def profile(rnd: random.Random, name: str, platform: Platform, programs: list[dict]) -> dict:
    entries = {}
    for _ in range(rnd.randint(0, 6)):
        one = rnd.choice(programs)
        command = rnd.choice(one["commands"])["id"] if rnd.random() < 0.9 else "gone"
        common = ["F8", "Control+7", "Control+E"]
        given = [{"keys": rnd.choice((*common, shortcut(rnd), shortcut(rnd)))} for _ in range(rnd.randint(0, 3))]
        entry = {"program": one["id"] if rnd.random() < 0.95 else "nowhere", "command": command, "platform": platform}
        entry |= {"shortcuts": given, "over": [rnd.choice(common)], "since": rnd.choice(("2026-11-01", "2020-01-01"))}
        if rnd.random() < 0.15:
            entry["locked"] = True
        entries[entry["program"], command] = entry
    found = {"format": "amberkey/profile@1", "id": name, "name": name.title(), "entries": list(entries.values())}
    if rnd.random() < 0.4:
        found["launchers"] = [{"id": f"{name}-start", "name": "Start it", "runs": "it", "shortcuts": {platform: [press(rnd)]}}]
    office = next(p["id"] for p in programs if p["kind"] == "office")
    if rnd.random() < 0.3:
        found["translations"] = translations(rnd, platform, next(p for p in programs if p["id"] == office))
    if rnd.random() < 0.2:
        own = {"keys": rnd.choice(("Control+7", "F8", "Control+E")), "platform": platform, "task": rnd.choice((None, "next"))}
        found["reserved"] = [own | rnd.choice(({}, {"program": office}))]
    if rnd.random() < 0.2:
        found["remaps"] = rnd.choice(REMAPS)
    if rnd.random() < 0.4:
        found |= arranged(rnd, platform, next(p for p in programs if p["id"] == office))
    return found


def offers(platform: Platform) -> dict:
    """A row of three places, a menu, macros, a preference."""
    return {
        "shelves": [{"id": "row", "name": "Row", "keys": {platform: [["F8", "1"], ["F8", "2"], "Control+7"]}}],
        "menus": [
            {"id": "bar", "name": "Bar", "opened": {platform: "Alt"}, "groups": [{"id": "edit", "name": "Edit", "letter": "E"}]}
        ],
        "macros": {"kept_in": ["person", "document"], "replay": ["from the caret"]},
        "preferences": [{"id": "size", "name": "Size", "kind": "number", "default": 10, "least": 1, "most": 99}],
    }


def arranged(rnd: random.Random, platform: Platform, office: dict) -> dict:
    """Something on the row, in the menu, in a macro, in the preferences; now and then something that isn't there."""
    ids = [*(c["id"] for c in office["commands"]), "gone"]
    some = [rnd.choice(ids) for _ in range(rnd.randint(1, 4))]
    where = {"program": office["id"] if rnd.random() < 0.95 else "nowhere"}
    kept = rnd.choice(({}, {"kept": "document", "document": "shut.doc"}, {"kept": "machine"}))
    keys = {platform: [rnd.choice((press(rnd), "F8", "Control+7"))]}
    found = {
        "shelves": [{**where, "shelf": rnd.choice(("row", "row", "gone")), "commands": some}],
        "menu_groups": [{**where, "id": "own", "place": "bar", "name": "Own", "commands": some}],
        "macros": [{**where, "id": "m", "name": "M", "steps": [{"runs": rnd.choice(ids)}], "shortcuts": keys, **kept}],
        "preferences": [{**where, "preference": rnd.choice(("size", "gone")), "value": rnd.choice((12, 200))}],
        "abbreviations": [
            {"id": f"a-{n}", "short": rnd.choice(("mfg", "mf", "the", "ö", "→")), "text": "x", "set_off": rnd.choice(SET_OFF)}
            for n in range(2)
        ],
    }
    return {section: items for section, items in found.items() if rnd.random() < 0.5}


EDIT = {"id": "edit", "name": "Edit", "letter": "E"}
SET_OFF = ("at once", "after a space or sign", "on a key")


def translations(rnd: random.Random, platform: Platform, office: dict) -> list[dict]:
    """One or two of a window, some of them in a scope, perhaps a swap."""
    keys, becomes = rnd.sample(["Control+E", "Control+7", "F8", "Alt+E", "Control+code:Numpad7"], 2)
    one = {"program": office["id"], "platform": platform, "keys": keys, "becomes": becomes}
    more = {"scope": rnd.choice(office["scopes"])["id"]}
    other = rnd.choice(({**one, **more, "becomes": "F8" if keys != "F8" else "F7"}, {**one, "keys": becomes, "becomes": keys}))
    if rnd.random() < 0.25:
        one = {**{k: v for k, v in one.items() if k != "becomes"}, **rnd.choice(ENDS)}
    return rnd.choice(([one], [{**one, **more}], [one, other]))


ENDS: tuple[dict, ...] = ({"closes": True}, {"starts": "house-start"}, {"starts": "gone"})
REMAPS = (
    [{"key": "CapsLock", "becomes": "ControlLeft"}, {"key": "KeyE", "becomes": "KeyQ"}],
    [{"key": "KeyE", "becomes": "KeyQ"}, {"key": "KeyQ", "becomes": "KeyE"}],
    [{"key": "ControlLeft", "becomes": "CapsLock"}, {"key": "ControlRight", "becomes": "CapsLock"}],
    [{"key": "Home", "becomes": "F8"}],
)


def drawn(rnd: random.Random) -> tuple[dict[str, dict], list[dict], dict[str, dict]]:
    """Setups by id, programs, profiles by id, as documents."""
    platform: Platform = rnd.choice(("windows", "linux", "macos"))
    everywhere = [{"id": "everywhere", "name": "Everywhere"}]
    caret = [
        {"id": "left", "name": "moves left", "does": "moves", "unit": "character", "keys": "ArrowLeft", "basic": True},
        {"id": "word", "name": "moves a word left", "does": "moves", "unit": "word", "keys": "Control+ArrowLeft"},
    ]
    programs = [
        program(rnd, "system", "system", platform, everywhere, caret=caret, limits={"bare_keys": True, "sequence_length": 2}),
        *(
            program(rnd, name, "utility", platform, everywhere, takes_by=rnd.choice(("intercept", "register")))
            for name in ("panes", "clips", "notes")[: rnd.randint(0, 3)]
        ),
        program(
            rnd, "browser", "browser", platform, window(rnd), **rnd.choice(({}, {"menus": [{"letter": "E", "name": "Edit"}]}))
        ),
        *([program(rnd, "browser-2", "browser", platform, window(rnd))] if rnd.random() < 0.3 else []),
        program(rnd, "web", "web", platform, window(rnd), **habits(rnd), **rnd.choice(({}, {"runs_in": ["browser"]}))),
        program(rnd, "office", "office", platform, window(rnd), **habits(rnd), offers=offers(platform)),
    ]
    near: Platform = rnd.choice(("windows", "linux", "macos"))
    near_system = program(rnd, "near", "system", near, everywhere, limits={"bare_keys": True})
    if rnd.random() < 0.2:
        programs.append(near_system)
    profiles = {name: profile(rnd, name, platform, programs) for name in ("house", "person")}
    setups: dict[str, dict] = {}
    for n in range(rnd.randint(1, 3)):
        layout, body = rnd.choice(KEYBOARDS[platform])
        used = [{"id": p["id"], "version": "1"} for p in programs if p["kind"] != "utility" or rnd.random() < 0.8]
        for one in used:
            if one["id"] == "web":
                one |= rnd.choice(({}, {}, {"runs": "in a window of its own"}, {"goes_first": False}, {"full_screen": True}))
            elif one["id"] == "system":
                one |= {"on": ["do-0"] if rnd.random() < 0.5 else [], "off": ["do-1"] if rnd.random() < 0.2 else []}
        setups[f"setup-{n}"] = {
            "format": "amberkey/setup@1",
            "id": f"setup-{n}",
            "name": f"Setup {n}",
            "place": "here",
            "platform": platform,
            "edition": "any",
            "layout": layout,
            "body": body,
            "programs": used,
            "people": n + 1,
            "machines": 1,
            "layers": rnd.choice((["house"], ["house", "person"])),
            "numlock": rnd.random() < 0.7,
            "open_documents": ["open.doc"],
            "assistive": rnd.choice((None, None, {"name": "Reader", "modifier": "Insert"})),
            "has": rnd.choice(([], ["several layouts"])),
            "edition_version": rnd.choice(("", "23H2", "24H2")),
            "input_method": METHOD if rnd.random() < 0.15 else None,
            **remotely(rnd, platform, near if near_system in programs else None, used, layout),
        }
        if "laptop" in body or "mac" in body:
            setups[f"setup-{n}"]["top_row"] = rnd.choice(("function keys", "special keys"))
    return setups, programs, profiles


def remotely(rnd: random.Random, platform: Platform, near: Platform | None, used: list[dict], layout: str) -> dict:
    """Perhaps a session on a far machine, and perhaps from a machine of another platform."""
    for_near = next((u for u in used if u["id"] == "near"), None)
    if for_near is not None:
        used.remove(for_near)
    if rnd.random() >= 0.2:
        return {}
    remote = {"name": "Far", "presses": rnd.choice(("passed on", "kept")), "system": {"id": "system", "version": "1"}}
    if near is None or for_near is None:
        return {"remote": remote}
    used[:] = [for_near, *(u for u in used if u["id"] != "system")]
    here = rnd.choice(KEYBOARDS[near])[0]
    return {"platform": near, "layout": here, "remote": {**remote, "platform": platform, "layout": layout}}


def put_up(setups, programs, profiles) -> Estate:
    return Estate(
        {i: read(s) for i, s in setups.items()},
        {(p["id"], "1"): read(p) for p in programs},
        {i: read(p) for i, p in profiles.items()},
        read(TASKS),
        TODAY,
    )


# Drawn by number: what a number draws is the same each time, and drawing is quick.
drawings = st.integers(0, 2**31).map(lambda number: drawn(random.Random(number)))
