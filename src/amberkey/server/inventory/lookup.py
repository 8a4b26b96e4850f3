"""Looking things up from anywhere: commands, tasks, keys, people, machines, profiles, preferences, programs, things to do, and
the guide."""

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Literal, NamedTuple
from urllib.parse import urlencode

from django.conf import settings
from django.http import HttpRequest
from ninja import Router

from amberkey.core.inventory.choosing import Asked, as_keys, chosen, marked
from amberkey.core.inventory.seeking import Sought, Wording
from amberkey.core.keys.platform import PLATFORM_NAMES
from amberkey.server.estate import current_estate, current_organisation
from amberkey.server.guide.pages import WORDS, read_guide
from amberkey.server.inventory.sheets import ALL, sheet_through
from amberkey.server.inventory.told import MarkOut, also_said, keys_out
from amberkey.server.library.documents import digests, known_programs
from amberkey.server.library.names import names_stamp
from amberkey.server.library.sight import sees_document
from amberkey.server.people.sight import sees_personal
from amberkey.server.schema import Schema, Words
from amberkey.server.workbench.words import ShortcutOut

router = Router(tags=["commands"])
_EACH = 5
"""Of each kind, so many are shown."""
FoundKind = Literal["command", "task", "person", "machine", "profile", "program", "preference", "to do", "guide"]
_TITLES: dict[FoundKind, str] = {
    "command": "Commands",
    "task": "Tasks",
    "person": "People",
    "machine": "Machines",
    "profile": "Profiles",
    "program": "Programs",
    "preference": "Preferences",
    "to do": "Things to do",
    "guide": "Guide",
}
# What can be done somewhere else than here: what it is called, in which other words people look for it, where it is done.
_TO_DO = (
    ("Decide where presses stop", "clashes conflicts settle", "/clashes"),
    ("Try a press", "trace test key", "/try"),
    ("Set a line of the standard", "rule shortcut for a task", "/standard"),
    ("Begin or edit tasks", "families neutral list", "/standard/tasks"),
    ("Bring in a list of commands", "import sheet csv xlsx ods", "/programs/list"),
    ("Describe a settings file", "format file of a program", "/programs/file"),
    ("Check an upgrade", "new version update", "/programs/upgrade"),
    ("Make a program", "add new application", "/programs/all"),
    ("Make or find a profile", "layer settings", "/profiles"),
    ("Compare two things", "difference diff revisions", "/profiles/compare"),
    ("Look at the history", "revisions line undo", "/profiles/history"),
    ("Add people", "staff accounts import", "/organisation/people"),
    ("Add machines", "computers inventory import", "/organisation/machines"),
    ("Enrol machines", "agents codes", "/machines/enrol"),
    ("Begin a release", "roll out waves deploy", "/machines/releases/new"),
    ("Make a card", "print hand out cheat sheet learn pdf", "/cards"),
    ("Settle drift", "changed by hand", "/machines/drift"),
    ("See what people have", "survey own settings", "/machines/people-have"),
    ("Set by hand", "worklist tick", "/machines/by-hand"),
    ("Change the password", "sessions account", "/account"),
)


class FoundThingOut(Schema):
    """Something that was found. `says`: where or what it is; `also`: what else it is called, where that is why; `to`: its
    address."""

    name: str
    marks: list[MarkOut]
    says: str
    also: str
    keys: list[ShortcutOut]
    to: str


class FoundGroupOut(Schema):
    """What was found of one kind, best first; `count`: how many there are in all."""

    kind: FoundKind
    title: str
    count: int
    things: list[FoundThingOut]


class _Thing(NamedTuple):
    """`others`: what else it is called; `about`: a sentence of it."""

    name: str
    others: tuple[str, ...]
    says: str
    to: str
    about: str = ""


@router.get("/lookup", response=list[FoundGroupOut])
def look_up(request: HttpRequest, words: Words) -> list[FoundGroupOut]:
    """What some words find, or who has a press that they are: by kind, the kind with the best one first."""
    if not words.strip():
        return []
    others = _others(words) if as_keys(words) is None else ()  # only commands have keys
    groups = [g for g in (_commands(words), *others) if g is not None]
    return [group for _, group in sorted(groups, key=lambda g: -g[0])]


def _commands(words: str) -> tuple[float, FoundGroupOut] | None:
    sheet = sheet_through(ALL)
    found = chosen(sheet, Asked(words=words, order="best first"))
    if not found:
        return None
    things = []
    for one in found[:_EACH]:
        row, why = one.row, one.found
        assert row is not None
        assert why is not None
        things.append(
            FoundThingOut(
                name=row.command.told_with(row.arguments),
                marks=_marks(row.command.told_with(row.arguments), why.marks),
                says=f"{row.program.name}, {row.program.scope(row.command.scope).name}",
                also=also_said(why.because, row.command.description),
                keys=keys_out(tuple(k for k, _ in row.effective.now.shortcuts), row, sheet),
                to=f"/programs?{urlencode({'seen': 'all', 'words': words, 'at': row.id})}",
            )
        )
    best = found[0].found
    return best.score if best else 0.0, FoundGroupOut(kind="command", title="Commands", count=len(found), things=things)


def _others(words: str) -> Iterator[tuple[float, FoundGroupOut] | None]:
    state = tuple(sorted(digests().items()))
    for kind, (things, sought) in _known(state, names_stamp(), sees_personal()).items():
        found = [f for f in sought.find(words) if kind != "profile" or sees_document(f"profile/{_id_in(things[f.at].to)}")]
        if found:
            told = [
                FoundThingOut(
                    name=things[f.at].name,
                    marks=_marks(things[f.at].name, f.marks),
                    says=things[f.at].says,
                    also=also_said(f.because, things[f.at].about),
                    keys=[],
                    to=things[f.at].to,
                )
                for f in found[:_EACH]
            ]
            yield found[0].score, FoundGroupOut(kind=kind, title=_TITLES[kind], count=len(found), things=told)


def _id_in(address: str) -> str:
    return address.rpartition("=")[2]


def _marks(text: str, marks: frozenset[str]) -> list[MarkOut]:
    return [MarkOut(begin=begin, end=end) for begin, end in marked(text, marks)]


@lru_cache(maxsize=4)
def _known(
    state: tuple[tuple[str, str], ...], stamp: object, personal: bool
) -> dict[FoundKind, tuple[Sequence[_Thing], Sought]]:
    """Everything but commands that can be looked up, put together once for a state of the documents and of names."""
    kinds: dict[FoundKind, list[_Thing]] = {
        "task": [*_tasks()],
        "person": [*_people()],
        "machine": [*_machines()],
        "profile": [*_profiles()],
        "program": [*_programs()],
        "preference": [*_preferences()],
        "to do": [_Thing(name, (others,), "", to) for name, others, to in _TO_DO],
        "guide": list(_guide()),
    }
    return {
        kind: (
            things,
            Sought(
                [
                    (Wording(t.name, 1.0), *(Wording(o, 0.85) for o in t.others), Wording(t.says, 0.45), Wording(t.about, 0.5))
                    for t in things
                ]
            ),
        )
        for kind, things in kinds.items()
    }


def _guide() -> Iterator[_Thing]:
    """Parts of the guide, also by what stands on their screens (in italics), and words with their meanings. They open beside
    whatever screen is there."""
    guide = read_guide(settings.GUIDE)
    for page in guide.pages.values():
        for part in page.parts:
            said = tuple(dict.fromkeys(re.findall(r"(?<!\*)\*{1,2}([^*\n]{3,60})\*", part.text)))
            yield _Thing(part.title, said, page.title, f"?guide={page.id}.{part.id}")
    for word, meaning in guide.words.items():
        yield _Thing(word, (), guide.pages[WORDS].title, f"?guide={WORDS}.{WORDS}", meaning)


def _tasks() -> Iterator[_Thing]:
    for task in current_estate().tasks.tasks:
        yield _Thing(task.name, task.other_words, task.group, f"/standard/tasks?{urlencode({'task': task.id})}")


def _people() -> Iterator[_Thing]:
    organisation = current_organisation()
    for person in organisation.people:
        if person.retired is None:
            where = organisation.departments_by_id[person.department].name
            yield _Thing(person.name, (person.id,), where, f"/organisation/people?{urlencode({'words': person.name})}")


def _machines() -> Iterator[_Thing]:
    for machine in current_organisation().machines:
        if machine.retired is None:
            to = f"/organisation/machines?{urlencode({'words': machine.name})}"
            yield _Thing(machine.name, (machine.id,), f"{PLATFORM_NAMES[machine.platform]} {machine.edition}".strip(), to)


def _profiles() -> Iterator[_Thing]:
    for profile in current_estate().profiles.values():
        to = f"/profiles?{urlencode({'profile': profile.id})}"
        yield _Thing(profile.name, (), "", to, profile.description)


def _programs() -> Iterator[_Thing]:
    for program in known_programs().values():
        to = f"/programs?{urlencode({'seen': 'all', 'show': program.id})}"
        yield _Thing(program.name, (), program.kind, to, program.description)


def _preferences() -> Iterator[_Thing]:
    for program in known_programs().values():
        for one in program.offers.preferences:
            yield _Thing(one.name, (one.id,), program.name, "/profiles?section=preferences")
