"""Proposing the description of a settings file from a sample of it: the container from its content, the records from where
texts that read as keys repeat, the dialect from the modifiers that occur.

Several are tried, and each is judged by what it then really reads: how many texts, how many known commands, how many that agree
with the defaults. The best are given with why.
"""

import itertools
import re
from collections import Counter
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple, cast

from pydantic import ValidationError

from amberkey.core.containers.errors import SettingsFileError
from amberkey.core.containers.tree import Node, Opened
from amberkey.core.descriptions.carrying import Reading, read_file
from amberkey.core.descriptions.described import ContainerName, Described, Encoding
from amberkey.core.descriptions.dialect import ModifierName
from amberkey.core.descriptions.key_tables import TABLES, keys_by_name
from amberkey.core.descriptions.records import CONTAINERS, MARKS, MOST_BYTES
from amberkey.core.descriptions.shown import FEWEST, bared, shown_defaults, signs_in, telling, with_sign
from amberkey.core.keys.names import NAMED_KEYS
from amberkey.core.keys.shortcut import Shortcut

BEST = 3
_ORDER: tuple[ModifierName, ...] = ("Control", "Alt", "Shift", "Meta", "AltGraph")
_WORDS: Mapping[ModifierName, tuple[str, ...]] = {
    "Control": ("control", "ctrl", "ctl", "strg", "primary", "c", "^", "⌃"),
    "Alt": ("alternate", "option", "alt", "opt", "m", "a", "!", "⌥"),
    "Shift": ("shift", "shf", "umschalt", "maj", "s", "$", "⇧"),
    "Meta": ("command", "windows", "super", "meta", "cmd", "win", "mod", "d", "w", "#", "@", "⌘"),
    "AltGraph": ("altgraph", "altgr", "gr"),
}
_BY_WORD = {word: m for m, words in _WORDS.items() for word in words}
_SIGNS = "^!$#@⌃⌥⇧⌘"
_KEY_NAMES = frozenset(
    {k.lower() for k in NAMED_KEYS}
    | {name.lower() for t in ("w3c", "x11") for name in keys_by_name(t) if len(name) > 1}
    | {"esc", "del", "ins", "pgup", "pgdn", "up", "down", "left", "right", "ret", "return", "spc", "plus", "minus", "comma"}
)
_SEPARATORS = ("+", "-", "~", "_", ":", ".", " ")
_BETWEEN_SEVERAL = (";", "|", ",", "/")
_THEN = (" > ", " & ", ", ", " then ", " ")
_BY_LINES = ("lines", "ini", "properties", "table")
_PART = 64 * 1024  # bytes by which a longer file of lines is judged
_SAMPLE = 400  # texts by which a dialect is judged


@dataclass(frozen=True)
class Guess:
    """A description with what it reads of the sample, how well, and why it was proposed; `shown`: how many defaults the sample
    only shows."""

    described: Described
    reading: Reading
    score: float
    why: tuple[str, ...]
    shown: int = 0


def guess(data: bytes, commands: Collection[str] = (), defaults: Mapping[str, Sequence[Shortcut]] | None = None) -> list[Guess]:
    """The best descriptions of a file. `commands`: what the program's commands may be called in files; `defaults`: what is so
    without the file.

    Where it shows defaults behind a sign these count as well, since they may tell the dialect better than the little that is
    set. Raises SettingsFileError for what is no text, or too large.
    """
    if len(data) > MOST_BYTES:
        raise SettingsFileError(f"The file has {len(data) // 1048576} MB, and {MOST_BYTES // 1048576} MB is the most.")
    known, usual = frozenset(commands), defaults or {}
    mark, encoding, text = _decoded(data)
    signs = signs_in(text)
    plain = _guessed(data, text, encoding, known, usual)
    found = [_shown_by(with_sign(data, g.described, signs), data, g) or g for g in plain]
    for sign in signs:
        bare = bared(text, sign)
        bare_data = mark + bare.encode(encoding, "replace")
        others = [
            g.described.model_copy(update={"shown_behind": sign}) for g in _guessed(bare_data, bare, encoding, known, usual)
        ]
        told = [_shown_by(how, data, _judged(data, how.model_dump(mode="python"), known, usual)) for how in others]
        better = sorted((g for g in told if g is not None), key=_told, reverse=True)
        if better and (not found or _told(better[0]) > _told(found[0])):
            found = better
    return found


def _decoded(data: bytes) -> tuple[bytes, Encoding, str]:
    """A file's byte-order mark, its encoding and its text."""
    mark, encoding = next(((m, e) for m, e in MARKS if data.startswith(m)), (b"", "utf-8"))
    try:
        return mark, cast(Encoding, encoding), data[len(mark) :].decode(encoding)
    except UnicodeDecodeError:
        return b"", "cp1252", data.decode("cp1252", "replace")


def _told(one: Guess) -> int:
    return sum(bool(f.shortcuts) for f in one.reading.found) + one.shown


def _shown_by(how: Described, data: bytes, set_there: Guess | None) -> Guess | None:
    """A guess that counts what the file shows, beside what was read that is set there; None where it shows too little."""
    try:
        shown = shown_defaults(data, how)
        reading = read_file(data, how)
    except SettingsFileError:
        return None
    if telling(shown) < FEWEST:
        return None
    why = f"{len(shown)} defaults are shown behind {how.shown_behind.strip()}"
    why_set = set_there.why if set_there else ("nothing is set in it",)
    return Guess(how, reading, set_there.score if set_there else 0.0, (*why_set, why), len(shown))


def _guessed(
    data: bytes, text: str, encoding: Encoding, known: frozenset[str], defaults: Mapping[str, Sequence[Shortcut]]
) -> list[Guess]:
    """The best descriptions of what is set in a file. `text`: the same as `data`, without its mark."""
    part = _beginning(data) if len(data) > _PART and encoding in ("utf-8", "cp1252") else data
    found: list[Guess] = []
    for container, options, opened in _opened(text):
        for shape in _shapes(opened.root, known):
            for dialect in _dialects(shape.keys):
                value = {"container": container, "options": options, "encoding": encoding, **shape.value, "dialect": dialect}
                one = _judged(part if container in _BY_LINES else data, value, known, defaults)
                if one is not None:
                    found.append(one)
    found.sort(key=lambda g: -g.score)
    best: dict[tuple[object, ...], Guess] = {}
    for one in found:
        how = one.described
        best.setdefault((how.container, how.at, how.command, how.keys.at, how.record), one)
    return [_whole(one, data, known, defaults) for one in list(best.values())[:BEST]]


def _beginning(data: bytes) -> bytes:
    """Whole lines from the beginning of a long file."""
    return data[: data.rfind(b"\n", 0, _PART) + 1] or data


def _whole(one: Guess, data: bytes, known: frozenset[str], defaults: Mapping[str, Sequence[Shortcut]]) -> Guess:
    """A proposal with what it reads of the whole file, where it was judged by the beginning."""
    if one.described.container not in _BY_LINES or len(data) <= _PART:
        return one
    return _judged(data, one.described.model_dump(mode="python"), known, defaults) or one


def _opened(text: str) -> Iterator[tuple[ContainerName, dict[str, Any], Opened]]:
    """The containers as which a text can be read, the most telling first."""
    tries: list[tuple[ContainerName, dict[str, Any]]] = [
        ("json", {}),
        ("json", {"comments": True}),
        ("xml", {}),
        ("toml", {}),
        ("ini", {}),
        *(("table", {"separator": s}) for s in (";", "\t", ",")),
        ("yaml", {}),
        *(("lines", {"template": t}) for t in _templates(text)),
        ("properties", {}),
    ]
    strict = sections = False
    for name, options in tries:
        if strict and name not in ("json",):
            return
        if sections and name == "properties":
            continue
        try:
            opened = CONTAINERS[name].open(text, options)
        except SettingsFileError:
            continue
        if name == "json" and strict:
            return
        # What reads as JSON or XML is that; nearly everything reads as properties, also what has sections.
        sections = sections or (name == "ini" and any(m.node.members for m in opened.root.members or ()))
        strict = name in ("json", "xml") and bool(opened.root.members or opened.root.items)
        yield name, options, opened


def _templates(text: str) -> Iterator[str]:
    """Templates of lines that repeat: a word or two, what stands between, and a rest that reads as keys."""
    lines = [line.strip() for line in text.splitlines() if line.strip() and line.strip()[0] not in "#;/!"]
    shapes: Counter[str] = Counter()
    for line in lines[:200]:
        for between in (" <- ", " -> ", " => ", " on ", " = ", " : ", ": ", " "):
            at = line.rfind(between) if between != " " else -1
            if at < 0:
                continue
            left, right = line[:at].split(" "), line[at + len(between) :]
            if _might_be_keys(right) and 1 <= len(left) <= 4:
                shapes[_template(left, between, "{keys:rest}", keys_last=True)] += 1
            elif _might_be_keys(line[:at]) and len(right.split(" ")) == 1:
                shapes["{keys:rest}" + between + "{command}"] += 1
    for shape, count in shapes.most_common(3):
        if count >= 2:
            yield shape


def _template(words: list[str], between: str, keys: str, *, keys_last: bool) -> str:
    if len(words) == 1:
        return "{command}" + between + keys
    if len(words) == 2:
        return f"{words[0]} {{command}}{between}{keys}"
    if words[1].endswith(":"):
        return f"{words[0]} {{context}}: {{command}}{between}{keys}"
    return f"{words[0]} {{context}} {{command}}{between}{keys}"


class _Shape(NamedTuple):
    """A way in which records may stand: the part of a description that says so, and texts of keys as they stand there."""

    value: dict[str, Any]
    keys: list[str]
    commands: int


def _shapes(root: Node, known: frozenset[str]) -> Iterator[_Shape]:
    """Where records may stand in a file, and what in them is what."""
    maps: dict[tuple[str, ...], list[Node]] = {}
    lists: dict[tuple[str, ...], list[Node]] = {}
    elements: dict[tuple[tuple[str, ...], str], list[Node]] = {}
    for path, node in _walk(root, ()):
        if node.items is not None and any(i.members for i in node.items):
            lists.setdefault(path, []).extend(i for i in node.items if i.members)
        if node.members is not None:
            if any(_is_value(m.node) for m in node.members):
                maps.setdefault(path, []).append(node)
            for name, count in Counter(m.name for m in node.members if m.node.members).items():
                if count > 0:
                    elements.setdefault((path, name), []).extend(
                        m.node for m in node.members if m.name == name and m.node.members
                    )
    for path, nodes in list(maps.items()):
        yield from _of_map(list(path), nodes, known)
    yield from _of_siblings(maps, known)
    for path, items in lists.items():
        yield from _of_rows({"at": list(path)}, items, known)
    for (path, name), items in elements.items():
        if any(m.name.startswith("@") for i in items for m in i.members or ()):
            yield from _of_rows({"at": list(path), "record": name}, items, known)


def _walk(node: Node, path: tuple[str, ...], depth: int = 0) -> Iterator[tuple[tuple[str, ...], Node]]:
    if depth > 8:
        return
    yield path, node
    for member in node.members or ():
        if not member.node.is_scalar:
            yield from _walk(member.node, (*path, member.name), depth + 1)


def _is_value(node: Node) -> bool:
    return isinstance(node.value, str) or (node.items is not None and all(isinstance(i.value, str) for i in node.items))


def _texts(node: Node) -> list[str]:
    if isinstance(node.value, str):
        return [node.value]
    return [i.value for i in node.items or () if isinstance(i.value, str)]


def _of_map(at: list[str], nodes: Sequence[Node], known: frozenset[str], **more: Any) -> Iterator[_Shape]:
    members = [m for n in nodes for m in n.members or () if _is_value(m.node)]
    values = [t for m in members for t in _texts(m.node)]
    names = [m.name for m in members]
    if _share(values) >= 0.4:
        is_list = any(m.node.items is not None for m in members)
        for form, texts in _forms(values, is_list=is_list):
            yield _Shape({"at": at, "command": "name", "keys": {"at": "value", **form}, **more}, texts, _known(names, known))
    if _share(names) >= 0.4:
        yield _Shape({"at": at, "command": "value", "keys": {"at": "name"}, **more}, names, _known(values, known))


def _of_siblings(maps: Mapping[tuple[str, ...], list[Node]], known: frozenset[str]) -> Iterator[_Shape]:
    """Maps beside each other that all hold records: their names, or the ends of these, say where a command is live."""
    beside: dict[tuple[str, ...], list[tuple[str, Node]]] = {}
    for path, nodes in maps.items():
        if path:
            beside.setdefault(path[:-1], []).extend((path[-1], n) for n in nodes)
    for parent, children in beside.items():
        for where in ("value", "name"):
            good = [(name, n) for name, n in children if any(s.value["keys"]["at"] == where for s in _of_map([], [n], known))]
            if len(good) < 2:
                continue
            at = [*parent, f"{_common([name for name, _ in good])}{{context}}"]
            shapes = _of_map(at, [n for _, n in good], known, context="{context}")
            yield from (s for s in shapes if s.value["keys"]["at"] == where)


def _common(names: Sequence[str]) -> str:
    """What some names begin with, up to a sign that parts."""
    same = "".join(c[0] for c in itertools.takewhile(lambda c: len(set(c)) == 1, zip(*names, strict=False)))
    end = max((same.rfind(s) for s in "/.:-_ "), default=-1)
    return same[: end + 1]


def _of_rows(where: dict[str, Any], rows: Sequence[Node], known: frozenset[str]) -> Iterator[_Shape]:
    columns: dict[str, list[Node]] = {}
    for row in rows:
        for member in row.members or ():
            columns.setdefault(member.name, []).append(member.node)
    texts = {name: [t for n in nodes for t in _texts(n)] for name, nodes in columns.items()}
    plain = {name: [str(n.value) for n in nodes if n.value is not None] for name, nodes in columns.items()}
    held = {name for name, nodes in columns.items() if _holds_modifiers(nodes)}
    keyed = [n for n in columns if n not in held and texts[n] and _share(texts[n]) >= 0.5]
    if held:  # a key apart from its modifiers may be a single sign
        keyed += [n for n in columns if n not in (*held, *keyed) and texts[n] and all(len(t) == 1 for t in texts[n])]
    commands = _best_command(plain, [n for n in columns if n not in held], known)
    for name in keyed:
        command = next((c for c in commands if c != name), None)
        if command is None:
            continue
        further = [n for n in keyed if n != name and n != command and _stem(n) == _stem(name)]
        base = {**where, "command": command}
        count = _known(plain[command], known)
        if held and all(len(t) < 12 and "+" not in t for t in texts[name]):
            modifiers = _parts(sorted(held)[0], columns)
            if modifiers is not None:
                keys = {"at": name, "form": "parts", "modifiers": modifiers}
                yield _Shape({**base, "keys": keys}, [], count)
        if further and name == min([name, *further]):
            keys = {"at": name, "form": "numbered", "further": sorted(further)}
            yield _Shape({**base, "keys": keys}, [*texts[name], *(t for f in further for t in texts[f])], count)
        is_list = any(n.items is not None for n in columns[name])
        for form, said in _forms(texts[name], is_list=is_list):
            yield _Shape({**base, "keys": {"at": name, **form}}, said, count)
    numbers = [n for n in columns if n not in held and plain[n] and all(v.isdigit() for v in plain[n])]
    for name in numbers if held else []:
        modifiers = _parts(sorted(held)[0], columns)
        if modifiers is not None and commands and commands[0] != name:
            keys = {"at": name, "form": "parts", "modifiers": modifiers}
            yield _Shape({**where, "command": commands[0], "keys": keys}, [], _known(plain[commands[0]], known))


def _holds_modifiers(nodes: Sequence[Node]) -> bool:
    words = [t.lower() for n in nodes for t in _texts(n)]
    parts = [w for t in words for w in re.split(r"[ ,+|]", t) if w]
    return bool(parts) and all(w in _BY_WORD and len(w) > 1 for w in parts)


def _parts(name: str, columns: Mapping[str, Sequence[Node]]) -> dict[str, Any] | None:
    nodes = columns[name]
    words = [t for n in nodes for t in _texts(n)]
    is_list = any(n.items is not None for n in nodes)
    between = " " if is_list else next((b for b in ("+", ",", "|", " ") if any(b in w for w in words)), " ")
    single = [p for w in words for p in ([w] if is_list else w.split(between)) if p]
    names: dict[str, str] = {}
    for word in single:
        names.setdefault(_BY_WORD.get(word.lower(), ""), word)
    names.pop("", None)
    for modifier, usual in (("Control", "ctrl"), ("Alt", "alt"), ("Shift", "shift"), ("Meta", "super")):
        if usual not in names.values():
            names.setdefault(modifier, usual)
    return {"form": "list" if is_list else "joined", "at": name, "names": names, "between": between}


def _best_command(plain: Mapping[str, Sequence[str]], names: Sequence[str], known: frozenset[str]) -> list[str]:
    """The columns that may say the command: those with known ones first, then those that are all different and no keys."""

    def rank(name: str) -> tuple[float, float, float]:
        values = plain[name]
        return (-_known(values, known), _share(list(values)), -len(set(values)) / max(1, len(values)))

    texts = [n for n in names if plain[n] and not all(v.isdigit() for v in plain[n])]
    return sorted(texts, key=rank)


def _stem(name: str) -> str:
    return re.sub(r"[\d ]+$|^(?:second|other|alternative|2nd) ", "", name.lower()).strip()


def _forms(texts: Sequence[str], *, is_list: bool) -> Iterator[tuple[dict[str, Any], list[str]]]:
    """How keys may be said by texts, with the single texts that come of it."""
    words = _nothing(texts)
    more = {"words": words} if words else {}
    rest = [t for t in texts if t and t not in words]
    if is_list:
        yield {"form": "list", **more}, rest
        return
    for between in _BETWEEN_SEVERAL:
        if any(between in t and all(_might_be_keys(p.strip()) for p in t.split(between)) for t in rest):
            yield {"form": "split", "between": between, **more}, [p.strip() for t in rest for p in t.split(between)]
    yield dict(more), rest


def _nothing(texts: Sequence[str]) -> list[str]:
    """Texts that mean no keys."""
    return [
        w for w in dict.fromkeys(texts) if w.lower() in ("none", "nothing", "null", "unbound", "disabled", "-", "off", "no")
    ][:2]


def _known(texts: Sequence[str], known: frozenset[str]) -> int:
    return sum(t in known for t in texts)


def _share(texts: Sequence[str]) -> float:
    """How many of some texts might be keys."""
    some = [t for t in texts if t][:_SAMPLE]
    return sum(_might_be_keys(t) for t in some) / len(some) if some else 0.0


_TOKEN = re.compile(r"[<\[]?([^\W\d_]+|[\^!$#@⌃⌥⇧⌘])[>\]]?[+\-~_:. ]?", re.UNICODE)


def _might_be_keys(text: str) -> bool:
    """A quick look: modifiers with a key behind them, the name of a key, or one of these behind another."""
    if not 0 < len(text) <= 60:
        return False
    if text.lower() in ("none", "nothing", "unbound", "-"):
        return True
    return any(_is_press(p) for p in (text, text.strip("<>"))) or any(
        between in text and all(_is_press(p.strip("<>")) or _is_press(p) for p in text.split(between) if p)
        for between in (*_THEN, *_BETWEEN_SEVERAL)
    )


def _is_press(text: str) -> bool:
    rest, held = text, 0
    while True:
        found = _TOKEN.match(rest)
        word = found[1].lower() if found is not None else ""
        if found is None or word not in _BY_WORD or found.end() >= len(rest):
            break
        if len(word) == 1 and word.isalpha() and rest[found.end() - 1] not in "+-~_:>.":
            break
        rest, held = rest[found.end() :], held + 1
    return (
        rest.lower() in _KEY_NAMES
        or (held > 0 and len(rest) == 1)
        or (held > 0 and rest.lower() in _BY_WORD and len(rest) == 1)
    )


def _dialects(texts: Sequence[str]) -> Iterator[dict[str, Any]]:
    """Dialects in which texts of keys may be written, by the modifiers that occur."""
    if not texts:
        for table in (None, *TABLES):
            yield {"modifiers": {}, "letters": "small", **({"table": table} if table else {})}
        return
    sample = list(texts)[:_SAMPLE]
    found: dict[str, str] = {}
    after: Counter[str] = Counter()
    wrapped = sum(t.startswith("<") and t.endswith(">") and t.count("<") == 1 for t in sample)
    around = wrapped * 2 > sum(not _is_plain(t) for t in sample) and wrapped > 0
    for text in sample:
        for press in _presses(text):
            rest = press[1:-1] if around and press.startswith("<") and press.endswith(">") else press
            while (token := _TOKEN.match(rest)) is not None and token[1].lower() in _BY_WORD and token.end() < len(rest):
                if len(token[1]) == 1 and token[1].isalpha() and token[0] == token[1]:
                    break
                found.setdefault(_BY_WORD[token[1].lower()], token[0])
                after[token[0][len(token[1]) :] if token[0][0] not in "<[" else ">"] += 1
                rest = rest[token.end() :]
    modifiers = _completed(found, after)
    then = [t for t in _THEN if any(t in x for x in sample)][:1]
    singles = [c for t in sample for c in [re.split(r"[+\-~_:>.⌘⌥⇧⌃^!$#@ ]", t)[-1]] if len(c) == 1 and c.isalpha()]
    letters = (
        "capital"
        if singles and all(c.isupper() for c in singles)
        else "small"
        if singles and all(c.islower() for c in singles)
        else None
    )
    tries = dict.fromkeys(filter(None, (letters, "as they are", "small", "case is shift")))
    wrapping = {"wrapping": {"before": "<", "after": ">", "when": "special"}} if around else {}
    angled = any(token.startswith("<") for token in found.values())
    for case in tries:
        any_case = {} if case != "case is shift" else {"any_case": False}
        for table in ("x11", None) if angled or any("_" in t for t in sample) else (None, "x11"):
            more = {"table": table} if table else {}
            yield {"modifiers": modifiers, "then": then, "letters": case, **wrapping, **any_case, **more}


def _is_plain(text: str) -> bool:
    return len(text) <= 1


def _presses(text: str) -> list[str]:
    if _is_press(text) or _is_press(text.strip("<>")):
        return [text]
    for between in _THEN:
        parts = [p for p in text.split(between) if p]
        if len(parts) > 1 and all(_is_press(p) or _is_press(p.strip("<>")) for p in parts):
            return parts
    return [text]


def _completed(found: Mapping[str, str], after: Counter[str]) -> dict[str, list[str]]:
    """The modifiers that occur, and the others as they would be said beside these."""
    if not found:
        return {m: [f"{w}+"] for m, w in zip(_ORDER, ("Ctrl", "Alt", "Shift", "Meta", "AltGr"), strict=True)}
    some = next(iter(found.values()))
    sign = after.most_common(1)[0][0] if after else "+"
    bare = re.sub(r"[^\w]", "", some)
    result = {m: [t] for m, t in found.items()}
    taken = set(found.values())
    usual: Sequence[Sequence[str]]
    if not bare:
        usual = (("^", "⌃"), ("!", "⌥"), ("$", "⇧"), ("#", "⌘"))
    elif len(bare) == 1:
        usual = (("C", "c"), ("A", "M", "a"), ("S", "s"), ("D", "W", "s"))
    elif bare.islower():
        usual = (("ctrl",), ("alt",), ("shift",), ("super", "win"))
    else:
        usual = (("Ctrl", "Control"), ("Alt",), ("Shift",), ("Super", "Win", "Meta"))
    for modifier, words in zip(_ORDER, usual, strict=False):
        for word in words if modifier not in result else ():
            text = f"<{word}>" if sign == ">" else f"{word}{sign if bare else ''}"
            if text not in taken:
                result[modifier] = [text]
                taken.add(text)
                break
    return result


def _judged(
    data: bytes, value: dict[str, Any], known: frozenset[str], defaults: Mapping[str, Sequence[Shortcut]]
) -> Guess | None:
    try:
        how = Described.model_validate(value, strict=False)
        reading = read_file(data, how)
    except (ValidationError, SettingsFileError):
        return None
    if not reading.found or not any(f.shortcuts for f in reading.found):
        return None
    read = sum(bool(f.shortcuts) for f in reading.found)
    named = sum(f.what.command in known for f in reading.found)
    agree = sum(bool(f.shortcuts) and tuple(defaults.get(f.what.command, ())) == f.shortcuts for f in reading.found)
    odd = sum(len(s.presses) > 1 or not s.presses[0].modifiers for f in reading.found for s in f.shortcuts)
    lost = len(reading.unread)
    spread = len({f.what for f in reading.found}) / len(reading.found)
    score = read + 2.0 * named + agree - 2.0 * lost - 0.15 * odd + 0.5 * spread
    why = [f"{read} of {read + lost} texts read as keys"]
    why += [f"{named} commands are known"] if named else []
    why += [f"{agree} say what is so by default"] if agree else []
    return Guess(how, reading, score, tuple(why))
