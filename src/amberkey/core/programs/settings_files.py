"""What a settings file says of a program's commands, by their ids; and writing that.

The file may call commands otherwise than we do (`in_file`), and let its context stand for our scopes. A program with several
files has each command in one of them.
"""

import re
from collections import Counter
from collections.abc import Container, Hashable, Mapping
from dataclasses import dataclass, replace
from typing import TypeVar

from amberkey.core.descriptions.carrying import Unread, Wanted, Written, read_file, write_file
from amberkey.core.descriptions.described import Described
from amberkey.core.documents.ids import fresh_id
from amberkey.core.documents.texts import without_hidden
from amberkey.core.keys.platform import Platform
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.programs.editions import figures_of
from amberkey.core.programs.model import Command, Program, Scope

_T = TypeVar("_T")
Entries = Mapping[str, tuple[Shortcut, ...]]


@dataclass(frozen=True, slots=True)
class Settings:
    """`entries`: the shortcuts of each command that the file names, by its id; one that we don't know, by what the file calls
    it. `unread`: what can't be read of our commands, with its line; what is none of them may be anything."""

    entries: Entries
    unread: tuple[Unread, ...]
    missing: str = ""
    """The place for entries, in words, where the file has none."""


def called_in(how: Described, command: Command) -> Wanted:
    """What a file calls a command, and the context in which it has it."""
    context = how.scopes.get(command.scope, command.scope) if how.context is not None else ""
    return Wanted(command.in_file or command.id, context)


def described_on(program: Program, platform: Platform) -> list[tuple[int, Described]]:
    """The descriptions that hold for the program's version on a platform, each with its number (counted from 0)."""
    version = figures_of(program.version)
    found = []
    for number, how in enumerate(program.settings_files):
        first, last = (figures_of(v) for v in how.versions)
        in_range = first <= version and (not last or version[: len(last)] <= last)
        if in_range and (not how.path or platform in how.path):
            found.append((number, how))
    return found


def holder_of(program: Program, platform: Platform, command: Command) -> int | None:
    """The number of the description of the file that has a command: the first that holds its scope, else the first that is of
    no scope in particular. None where no file on the platform has it."""
    files = described_on(program, platform)
    holding = (n for n, how in files if command.scope in how.holds)
    return next(holding, next((n for n, how in files if not how.holds), None))


def of_file(program: Program, platform: Platform, number: int, wanted: Mapping[str, _T]) -> dict[str, _T]:
    """What of several commands, by their ids, stands in one file of the program: of one that the program doesn't have nobody
    knows where, so it stays with each."""
    known = program.commands_by_id
    return {i: one for i, one in wanted.items() if i not in known or holder_of(program, platform, known[i]) == number}


def read_settings(data: bytes, program: Program, how: Described, platform: Platform | None = None) -> Settings:
    """What a file says of a program. `platform`: whose defaults hold, for files in which keys stand beside them or are off; the
    first one that the description has a path for if it isn't told. Raises SettingsFileError where it isn't such a file."""
    ids = {called_in(how, c): c.id for c in reversed(program.commands)}
    reading = read_file(data, how)
    unread = tuple(u for u in reading.unread if u.what in ids)
    said = reading.shortcuts
    if how.keys.off is not None or how.keys.beside_defaults:
        said = _with_defaults(program, how, said, platform)
    # What stands in a context of no scope of ours, or is called as another command's id, is none of ours and doesn't look so.
    entries = {
        ids.get(w) or (f'{w.context} "{w.command}"'.strip() if w.command in program.commands_by_id else w.command): keys
        for w, keys in said.items()
    }
    return Settings(entries, unread, reading.missing)


def _with_defaults(
    program: Program, how: Described, said: Mapping[Wanted, tuple[Shortcut, ...]], platform: Platform | None
) -> dict[Wanted, tuple[Shortcut, ...]]:
    """What commands have where keys of the file are off, or stand beside defaults, or were the default of another command."""
    where = platform or _platform_of(program, how)
    taken: dict[str, dict[Shortcut, Wanted]] = {}
    for what, keys in said.items():
        taken.setdefault(what.context, {}).update(dict.fromkeys(keys, what))
    found = {what: keys for what, keys in said.items() if what.command != how.keys.off}
    for command in program.commands:
        what, defaults = called_in(how, command), command.defaults_on(where)
        here = taken.get(what.context, {})
        left = tuple(s for s in defaults if here.get(s, what) == what)
        own = said.get(what, ())
        if own and not how.keys.beside_defaults:
            left = ()
        if own or left != tuple(defaults):
            found[what] = tuple(dict.fromkeys((*own, *left)))
    return found


def _platform_of(program: Program, how: Described) -> Platform:
    return next(iter(how.path), program.platforms[0])


def write_settings(
    data: bytes,
    program: Program,
    how: Described,
    wanted: Mapping[str, tuple[Shortcut, ...] | None],
    platform: Platform | None = None,
) -> Written:
    """A file with shortcuts of commands set, by their ids; none: the default. `platform` as for reading. Raises
    SettingsFileError."""
    known = program.commands_by_id
    called = {called_in(how, known[i]) if i in known else Wanted(i): shortcuts for i, shortcuts in wanted.items()}
    if how.keys.off is None:
        return write_file(data, how, called)
    before = read_file(data, how).shortcuts
    written = write_file(data, how, _switching_off(program, how, called, before, platform or _platform_of(program, how)))
    return replace(written, changed=tuple(w for w in written.changed if w.command != how.keys.off))


def _switching_off(
    program: Program,
    how: Described,
    called: Mapping[Wanted, tuple[Shortcut, ...] | None],
    before: Mapping[Wanted, tuple[Shortcut, ...]],
    platform: Platform,
) -> dict[Wanted, tuple[Shortcut, ...] | None]:
    """The same wishes with the keys that are to do nothing: defaults which a command shall not have, as far as no other command
    has them. What somebody switched off that is no default of a wanted command stays off."""
    assert how.keys.off is not None
    found: dict[Wanted, tuple[Shortcut, ...] | None] = {what: keys or None for what, keys in called.items()}
    defaults = {called_in(how, c): tuple(c.defaults_on(platform)) for c in program.commands}
    for context in dict.fromkeys(w.context for w in called):
        off = Wanted(how.keys.off, context)
        was = before.get(off, ())
        ours = {s for w, keys in called.items() if w.context == context for s in (*defaults.get(w, ()), *(keys or ()))}
        given = {s for w, keys in {**before, **called}.items() if w.context == context and w != off for s in keys or ()}
        gone = [
            s
            for what, keys in called.items()
            if what.context == context and keys is not None and (not keys or how.keys.beside_defaults)
            for s in defaults.get(what, ())
            if s not in keys
        ]
        wanted = tuple(dict.fromkeys(s for s in (*(s for s in was if s not in ours), *gone) if s not in given))
        if wanted or was:
            found[off] = wanted or None
    return found


_SMALL_WORDS = frozenset({"a", "an", "the", "of", "to", "in", "on", "with"})


def may_be(
    program: Program, platform: Platform, how: Described, unknown: Mapping[Wanted, tuple[Shortcut, ...]], named: Container[str]
) -> dict[Wanted, str]:
    """Which command one may be that a file calls by a name we don't know: the id of the only one with the same words, else of
    the only one whose default shortcuts are the same.

    `named`: ids that the file has already; each is proposed once. A scope has one context: that which the description says,
    else the one in which most of its commands may stand.
    """
    left = {c.id: c for c in program.commands if not c.retired and c.id not in named}
    by_words = _only({c.id: words for c in left.values() for words in [_words(c.name)]})
    by_keys = _only({c.id: keys for c in left.values() if (keys := c.defaults_on(platform))})
    found: dict[Wanted, str] = {}
    for what, keys in unknown.items():
        command = by_words.get(_words(what.command)) or by_keys.get(keys)
        if command is not None and command not in found.values():
            found[what] = command
    if how.context is None:
        return found
    seen: dict[str, Counter[str]] = {}
    for what, command in found.items():
        seen.setdefault(left[command].scope, Counter())[what.context] += 1
    contexts = {scope: counts.most_common(1)[0][0] for scope, counts in seen.items()} | how.scopes
    return {what: command for what, command in found.items() if contexts[left[command].scope] == what.context}


def _words(text: str) -> frozenset[str]:
    parts = re.findall(r"[^\W\d_]+|\d+", re.sub(r"(?<=[a-z])(?=[A-Z])", " ", text))
    return frozenset(p.lower() for p in parts) - _SMALL_WORDS


def _only(values: Mapping[str, Hashable]) -> dict[Hashable, str]:
    """The key of each value that only one has."""
    counts = Counter(values.values())
    return {value: key for key, value in values.items() if counts[value] == 1}


def made_new(
    program: Program, how: Described, wanted: Mapping[Wanted, tuple[Shortcut, ...]], platform: Platform
) -> tuple[Program, Described]:
    """The program with commands for names that a file has and it doesn't, and the description with their contexts.

    `wanted`: each with the default that the file shows for it on the platform; none where it only says what somebody set. They
    are called in words as the file calls them, and are live in the scope of their context; one that no scope has becomes a
    scope of its own.
    """
    commands, scopes = list(program.commands), list(program.scopes)
    contexts = {how.scopes.get(s.id, s.id): s.id for s in program.scopes} if how.context is not None else {}
    said = dict(how.scopes)
    whole = next((s.id for s in program.scopes if s.parent is None), program.scopes[0].id)
    for what, shown in wanted.items():
        scope = whole
        if how.context is not None:
            if what.context not in contexts:
                new_scope = fresh_id(what.context or "scope", {s.id for s in scopes})
                scopes.append(Scope(id=new_scope, name=_in_words(what.context) or "Scope", parent=whole))
                contexts[what.context] = new_scope
            scope = contexts[what.context]
            if scope != what.context:
                said[scope] = what.context
        name = _in_words(what.command) or "A command"
        new_id = fresh_id(name, {c.id for c in commands})
        in_file = "" if new_id == what.command else what.command
        defaults = {platform: shown} if shown else {}
        commands.append(Command(id=new_id, name=name, scope=scope, in_file=in_file, defaults=defaults))
    made = program.model_copy(update={"commands": tuple(commands), "scopes": tuple(scopes)})
    return made, how.model_copy(update={"scopes": said})


def _in_words(called: str) -> str:
    """What a file calls something, as people would read it; empty where nobody could."""
    words = " ".join(re.sub(r"(?<=[a-z])(?=[A-Z])|[._/:-]+", " ", without_hidden(called)).split())
    return words[:1].upper() + words[1:200]
