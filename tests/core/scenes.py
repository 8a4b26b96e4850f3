"""Small scenes: one setup with a few programs, written down by what matters in them."""

from amberkey.core.clashes.estate import Estate
from amberkey.core.clashes.trace import Focus, trace
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.layouts.keyboard import pressed as by_caps
from amberkey.core.profiles.setup import Setup
from tests.core.estates import TODAY, read

USUAL = {"windows": ("us", "ansi"), "linux": ("us", "ansi"), "macos": ("us(mac)", "mac-ansi")}
PLATFORMS = ("windows", "linux", "macos")
SCOPES = [
    {"id": "window", "name": "Window"},
    {"id": "page", "name": "Page", "parent": "window", "takes_text": True},
    {"id": "panel", "name": "Panel", "parent": "window"},
]
EVERYWHERE = [{"id": "everywhere", "name": "Everywhere"}]


def command(name, scope, *keys, **more):
    """`keys` hold on whatever platform the scene has."""
    return {"id": name, "name": name.replace("-", " ").capitalize(), "scope": scope, "keys": list(keys), **more}


def program(platform, name, kind, commands, scopes=None, **more):
    made = []
    for one in commands:
        one = dict(one)
        keys = one.pop("keys")
        made.append({**one, "defaults": {platform: keys}} if keys else one)
    base = {"format": "amberkey/program@1", "id": name, "name": name.capitalize(), "version": "1", "kind": kind}
    hotkeys = kind in ("system", "utility")
    limits = {"sequence_length": 3, "bare_keys": True}
    if hotkeys:
        limits = {"bare_keys": True}
    return {
        **base,
        "platforms": [platform],
        "scopes": scopes or (EVERYWHERE if hotkeys else SCOPES),
        "commands": made,
        "limits": limits,
        "reads_keys_by": {platform: "character"} if not hotkeys else {},
        **more,
    }


def system(platform, *commands, **more):
    return program(platform, "system", "system", commands, **more)


def office(platform, *commands, **more):
    return program(platform, "office", "office", commands, **more)


def entry(platform, name, *keys, program="office", scope=None, **more):
    shortcuts = [{"keys": k, **({"scope": scope} if scope else {})} for k in keys]
    return {"program": program, "command": name, "platform": platform, "shortcuts": shortcuts, **more}


def scene(platform, *programs, house=None, tasks=None, layout=None, body=None, today=TODAY, used=None, **setup) -> Estate:
    """An estate with the setup `here`; `house` are sections of its one profile, `used` changes how a program runs."""
    usual_layout, usual_body = USUAL[platform]
    if not any(p["kind"] == "system" for p in programs):
        programs = (system(platform), *programs)
    names = [{"id": p["id"], "version": "1", **(used or {}).get(p["id"], {})} for p in programs]
    document = {
        "format": "amberkey/setup@1",
        "id": "here",
        "name": "Here",
        "place": "here",
        "platform": platform,
        "edition": "any",
        "layout": layout or usual_layout,
        "body": body or usual_body,
        "people": 7,
        "machines": 5,
        "programs": names,
        "layers": ["house"],
        **setup,
    }
    profile = read({"format": "amberkey/profile@1", "id": "house", "name": "House", **(house or {})})
    known = {"tasks": read({"format": "amberkey/tasks@1", "id": "tasks", "name": "Tasks", **tasks})} if tasks else {}
    here = read(document)
    assert isinstance(here, Setup)
    return Estate({"here": here}, {(p["id"], "1"): read(p) for p in programs}, {"house": profile}, today=today, **known)


def pressed(estate, text, focus=None):
    """The ways of a shortcut's presses, by what is printed on the keys, with a focus such as `office/page`."""
    board = estate.board("here")
    where = Focus(*focus.split("/")) if focus else None
    part = board.parts[where.program] if where else None
    reads = part.reads if part else "character"
    ways, why = by_caps(read_shortcut(text).resolve(board.ground.platform), board.ground.keyboard, reads)
    assert ways, why
    return trace(board, ways[0], where)


def name(binding):
    return f"{binding.program.id}/{binding.command.id}" if binding else None


def told(clash):
    return clash.kind, clash.severity, name(clash.holder), name(clash.loser)


def clashes(estate):
    return [told(c) for c in estate.clashes("here")]


def only(estate):
    """The one clash that a scene is written for."""
    (clash,) = estate.clashes("here")
    return clash
