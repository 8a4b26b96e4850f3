"""Settings files of made-up programs, drawn: another container, shape, dialect and habit each time, with what they say.

Nothing here knows how descriptions are guessed.
"""

import json
import random
from dataclasses import dataclass
from xml.sax.saxutils import quoteattr

from amberkey.core.descriptions.dialect import Dialect, write
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut

VERBS = ("open", "save", "close", "find", "print", "copy", "paste", "split", "merge", "show", "hide", "next", "zoom")
THINGS = ("sheet", "row", "berth", "log", "map", "page", "note", "view", "tide", "route")
KEYS = (
    *("Control+S", "Control+Shift+S", "Control+O", "Alt+Enter", "F5", "F11"),
    *("Control+F", "Shift+F3", "Control+Alt+K", "Control+P", "Control+Tab", "Control+Shift+Tab"),
    *("Delete", "Alt+ArrowUp", "Control+ArrowLeft", "Control+1", "Control+K", "Meta+D"),
    *("F2", "Control+Shift+P", "Alt+Shift+ArrowDown", "Control+G", "Control+Enter", "Control+Home"),
    *("Control+D", "Alt+F8", "Control+B"),
)
WORDS = (
    ("Ctrl", "Alt", "Shift", "Meta"),
    ("ctrl", "alt", "shift", "super"),
    ("Control", "Option", "Shift", "Command"),
    ("ctl", "alt", "shf", "win"),
    ("C", "A", "S", "D"),
    ("C", "M", "S", "W"),
)

Texts = dict[str, list[str]]


@dataclass(frozen=True)
class Drawn:
    text: bytes
    says: dict[str, tuple[Shortcut, ...]]
    commands: tuple[str, ...]
    """What the program's commands are called in files, those among them that this file doesn't name."""
    defaults: dict[str, tuple[Shortcut, ...]]
    told: str


def drawn_file(rnd: random.Random) -> Drawn:
    names = rnd.sample([f"{v}{rnd.choice('.-_')}{t}" for v in VERBS for t in THINGS], 16)
    keys = rnd.sample(KEYS, len(KEYS))
    count = rnd.randint(6, 12)
    several = rnd.random() < 0.3
    says = {}
    for name in names[:count]:
        more = [keys.pop()] if several and rnd.random() < 0.3 else []
        says[name] = tuple(read_shortcut(k) for k in (keys.pop(), *more))
    dialect = drawn_dialect(rnd)
    texts = {n: [write(dialect, s) for s in shortcuts] for n, shortcuts in says.items()}
    container = rnd.choice(["json", "json", "yaml", "toml", "xml", "ini", "properties", "table", "lines"])
    text, told = _WRITERS[container](rnd, texts, several)
    if told == "one each":
        says = {n: s[:1] for n, s in says.items()}
    defaults = {n: s if rnd.random() < 0.4 else (read_shortcut("F12"),) for n, s in says.items()}
    return Drawn(text.encode(), says, tuple(names), defaults, f"{container}, {told}, {dialect.modifiers}, {dialect.letters}")


def drawn_dialect(rnd: random.Random) -> Dialect:
    words, separator = rnd.choice(WORDS), rnd.choice("++-~")
    if len(words[0]) == 1:
        separator = "-"
    texts = [f"{w}{separator}" for w in words]
    table, letters = None, "small" if words[0].islower() or rnd.random() < 0.3 else "as they are"
    if rnd.random() < 0.2:
        texts, table, letters = [f"<{w}>" for w in ("Control", "Alt", "Shift", "Super")], "x11", "small"
    value = {
        "modifiers": {m: [t] for m, t in zip(("Control", "Alt", "Shift", "Meta"), texts, strict=True)},
        "letters": letters,
        **({"table": table} if table else {}),
    }
    return Dialect.model_validate(value, strict=False)


def _json(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    form = rnd.choice(["list of objects", "map", "map of lists", "keyed by keys"])
    if form == "list of objects":
        command, at = rnd.choice([("command", "key"), ("do", "on"), ("action", "shortcut"), ("id", "binding")])
        own = [{command: n, at: t if several else t[0]} for n, t in texts.items()]
        for entry in own:
            if rnd.random() < 0.2:
                entry["when"] = "always"
    elif form == "keyed by keys":
        own = {t: n for n, ts in texts.items() for t in ts}
    else:
        own = {n: t if form == "map of lists" else t[0] for n, t in texts.items()}
    section = rnd.choice(["keys", "shortcuts", "bindings"])
    root = {"version": 4, "window": {"left": 4, "title": "Tide map"}, section: own, "recent": ["a.txt", "b.txt"]}
    single = form == "map" or (form == "list of objects" and not several)
    text = json.dumps(root, indent=rnd.choice([None, 2]))
    if rnd.random() < 0.3:
        text = "// kept by the program\n" + text
    return text, "one each" if single else form


def _yaml(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    keyed = rnd.random() < 0.3
    lines = ["# settings", "theme: dark", "keys:"]
    for n, ts in texts.items():
        if keyed:
            lines += [f"  {json.dumps(t)}: {n}" for t in ts]
        else:
            lines.append(f"  {n}: {json.dumps(ts) if several else json.dumps(ts[0])}")
    return "\n".join((*lines, "recent: [a, b]", "")), "all" if keyed or several else "one each"


def _toml(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    if rnd.random() < 0.5:
        block = '[[bind]]\ncommand = "{}"\nkey = {}\n\n'
        blocks = "".join(block.format(n, json.dumps(ts if several else ts[0])) for n, ts in texts.items())
        return f'title = "x"\n\n{blocks}', "all" if several else "one each"
    rows = "".join(f'"{n}" = {json.dumps(ts if several else ts[0])}\n' for n, ts in texts.items())
    return f'title = "x"\n\n[keys]\n{rows}\n[window]\nleft = 4\n', "all" if several else "one each"


def _xml(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    element, command, at = rnd.choice([("key", "for", "press"), ("shortcut", "action", "keys"), ("bind", "id", "to")])
    rows = "".join(f"    <{element} {command}={quoteattr(n)} {at}={quoteattr(t)}/>\n" for n, ts in texts.items() for t in ts)
    return f'<?xml version="1.0"?>\n<settings>\n  <window left="4"/>\n  <keys>\n{rows}  </keys>\n</settings>\n', "all"


def _ini(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    between = rnd.choice([";", ","])
    rows = [f"{n}={between.join(ts) if several else ts[0]}" for n, ts in texts.items()]
    if rnd.random() < 0.4:
        half = len(rows) // 2
        keys = ["[keys/desk]", *rows[:half], "", "[keys/list]", *rows[half:]]
    else:
        keys = ["[keys]", *rows]
    lines = ["; settings", "[window]", "left=4", "title=Tide map", "", *keys, "", "[recent]", "file0=a.txt", ""]
    return "\n".join(lines), "all" if several else "one each"


def _properties(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    rows = [f"{n}{rnd.choice(['=', ' = '])}{ts[0]}" for n, ts in texts.items()]
    return "\n".join(("# settings", "theme=dark", *rows, "")), "one each"


def _table(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    separator = rnd.choice([";", "\t"])
    if several:
        rows = [separator.join((n, ts[0], ts[1] if len(ts) > 1 else "", "x")) for n, ts in texts.items()]
        return "\n".join((separator.join(("Command", "Key 1", "Key 2", "Note")), *rows, "")), "all"
    rows = [separator.join((n, ts[0], "note")) for n, ts in texts.items()]
    return "\n".join((separator.join(("Command", "Keys", "Note")), *rows, "")), "one each"


def _lines(rnd: random.Random, texts: Texts, several: bool) -> tuple[str, str]:
    shape = rnd.choice(["bind {0} -> {1}", "{0} = {1}", "on desk: {0} <- {1}", "{0}: {1}"])
    rows = [shape.format(n, t) for n, ts in texts.items() for t in ts]
    return "\n".join(("# settings", "speed 4", "gap 3", *rows, "")), "all"


_WRITERS = {
    "json": _json,
    "yaml": _yaml,
    "toml": _toml,
    "xml": _xml,
    "ini": _ini,
    "properties": _properties,
    "table": _table,
    "lines": _lines,
}
