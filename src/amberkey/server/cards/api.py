"""Cards over the API: chosen, drawn, handed out, printed."""

import datetime
from collections.abc import Sequence
from typing import Annotated, Literal, cast
from uuid import UUID

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router
from pydantic import Field, TypeAdapter, ValidationError

from amberkey.core.cards.content import setups_for
from amberkey.core.cards.model import CardLine
from amberkey.core.cards.wish import PAPERS, CardWish, Paper
from amberkey.core.cards.words import word
from amberkey.core.documents.field import LANGUAGES, Language
from amberkey.core.documents.ids import id_from
from amberkey.core.keys.platform import PLATFORM_NAMES, Platform
from amberkey.core.layouts.layout import load_layout
from amberkey.core.worth.telling import say_minutes
from amberkey.core.worth.weighing import FEWEST
from amberkey.server.cards.drawing import Drawn, drawn, hidden, title_of
from amberkey.server.cards.models import PRINT, CardBatch, CardGiven
from amberkey.server.cards.printing import FORMS, Laid, laid_out
from amberkey.server.cards.tasks import put_to_work
from amberkey.server.cards.verbs import close_page, give, open_page, take_back
from amberkey.server.estate import current_derived, current_estate, current_organisation
from amberkey.server.people.acting import By, actor_of
from amberkey.server.people.models import Role
from amberkey.server.people.sight import sees_personal
from amberkey.server.problems import NotFound, Problem
from amberkey.server.schema import NamedOut, Number, Schema
from amberkey.server.workbench.words import ShortcutOut

router = Router(tags=["cards"])
_MOST_AT_ONCE = 500
_MOST_IN_ONE = 250
"""Cards in one PDF lie in memory together, some 2 MB each."""
Form = Literal["pdf", "html", "txt"]
BatchForm = Literal["pdf", "html", "txt", "print"]


class CardKeyboardOut(Schema):
    """A platform with a layout that people type on, and how many do."""

    platform: Platform
    layout: str
    name: str
    people: int


class CardChoicesOut(Schema):
    """For whom cards can be made, on which keyboards (those of most people first), in which languages, on which papers.
    `person`: whom it was asked for; the keyboards are theirs alone."""

    roles: list[NamedOut]
    departments: list[NamedOut]
    keyboards: list[CardKeyboardOut]
    languages: list[NamedOut]
    papers: list[Paper]
    person: NamedOut | None


class CardLineOut(Schema):
    """`says`: what its key saves, in words; empty where no figure is told."""

    id: str
    name: str
    programs: list[str]
    keys: list[ShortcutOut]
    old: list[ShortcutOut]
    notes: list[str]
    says: str


class CardPartOut(Schema):
    """`learned`: what is worth most, or a week of it."""

    title: str
    learned: bool
    lines: list[CardLineOut]


class LeftOutOut(Schema):
    id: str
    name: str
    why: str


class LastCardOut(Schema):
    number: int
    at: datetime.datetime
    by: str


class CardOut(Schema):
    """`pages`: how many it needs; null where it can't be printed here (`why_not`). `beyond`: the lines that would have to go
    for it to fit on its paper. `between_presses`: what stands between the presses of a
    sequence. `last`: the card that the same people were handed before."""

    title: str
    organisation: str
    foot: str
    parts: list[CardPartOut]
    left_out: list[LeftOutOut]
    people: int
    desks: list[str]
    last: LastCardOut | None
    pages: int | None
    beyond: list[NamedOut]
    why_not: str
    text: str
    between_presses: str


class PageIn(Schema):
    """For how many days people can read the page."""

    days: Annotated[int, Field(ge=1, le=366)] = 90


class PageOpenedOut(Schema):
    """The address of a card's page, told this once."""

    address: str
    until: datetime.date


class CardGivenOut(Schema):
    """`open_until`: the last day on which people can read its page; null where it has none."""

    number: int
    title: str
    people: int
    by: str
    at: datetime.datetime
    wish: CardWish
    open_until: datetime.date | None


class ManyCardsIn(Schema):
    """A card of one kind for every role, on every keyboard that its people type on, in each of some languages. `form`: of the
    files in a zip, or `print`: one PDF with all of them."""

    languages: Annotated[tuple[Language, ...], Field(min_length=1, max_length=len(LANGUAGES))] = ("en",)
    paper: Paper = "A5 across"
    most: Annotated[int, Field(ge=0, le=60)] = 8
    form: BatchForm = "pdf"


BatchState = Literal["working", "done", "failed"]


class CardBatchOut(Schema):
    """Cards that are made together: how many are `done` `of` all; `says` what went otherwise; `file`: what is fetched then."""

    id: UUID
    file: str
    state: BatchState
    done: int
    of: int
    says: str


class CardIn(Schema):
    """`wish`: a card as JSON, as `POST /cards/draw` takes it."""

    wish: Annotated[str, Field(max_length=20_000)]
    number: Number | None = None


@router.get("/cards/choices", response=CardChoicesOut)
def card_choices(request: HttpRequest, person: Annotated[str, Field(max_length=80)] = "") -> CardChoicesOut:
    """What a card can be made for; with a person, on which of their keyboards."""
    estate, organisation = current_estate(), current_organisation()
    boards: dict[tuple[Platform, str], list[str]] = {}
    somebody = organisation.people_by_id.get(person)
    if person and not sees_personal():
        raise hidden()
    if person and somebody is None:
        raise NotFound(f"person {person[:60]}")
    own = None if somebody is None else current_derived().setups_of(person=somebody.id)
    for setup in estate.setups.values():
        if own is not None and setup.id not in own:
            continue
        boards.setdefault((setup.works_on, setup.reads_by), []).append(setup.id)
    found = [
        CardKeyboardOut(
            platform=platform,
            layout=layout,
            name=f"{PLATFORM_NAMES[platform]}, {load_layout(layout, platform).name}",
            people=estate.people_of(estate.setups[i] for i in ids) if somebody is None else somebody.stands_for,
        )
        for (platform, layout), ids in boards.items()
    ]
    return CardChoicesOut(
        roles=[NamedOut(id=r.id, name=r.name) for r in organisation.roles],
        departments=[NamedOut(id=d.id, name=d.name) for d in organisation.departments],
        keyboards=sorted(found, key=lambda k: (-k.people, k.name)),
        languages=[NamedOut(id=i, name=name) for i, name in LANGUAGES.items()],
        papers=list(PAPERS),
        person=NamedOut(id=somebody.id, name=somebody.name) if somebody is not None else None,
    )


@router.post("/cards/draw", response=CardOut)
def draw_card(request: HttpRequest, wish: CardWish) -> CardOut:
    """A card as it would be now; nothing is kept."""
    return _out(drawn(wish))


@router.get("/cards", response=list[CardGivenOut])
def cards(request: HttpRequest) -> list[CardGivenOut]:
    """The cards that were handed out, the newest first; those for one person where whoever asks may see them."""
    found = CardGiven.objects.select_related("by")
    if not sees_personal():
        found = found.exclude(audience__startswith="person/")
    return [_given(one) for one in found[:200]]


@router.post("/cards", response=CardGivenOut, auth=By(Role.EDITOR))
def give_card(request: HttpRequest, wish: CardWish) -> CardGivenOut:
    """Hand a card out: the next one for the same people tells what has changed since."""
    return _given(give(actor_of(request), wish))


@router.post("/cards/{number}/back", response=list[CardGivenOut], auth=By(Role.EDITOR))
def take_card_back(request: HttpRequest, number: Number) -> list[CardGivenOut]:
    """Forget that a card was handed out."""
    take_back(actor_of(request), number)
    return cards(request)


@router.post("/cards/{number}/page", response=PageOpenedOut, auth=By(Role.EDITOR))
def open_card_page(request: HttpRequest, number: Number, given: PageIn) -> PageOpenedOut:
    """An address at which people read a card without signing in; the one before leads nowhere any more."""
    token = open_page(actor_of(request), number, given.days)
    until = timezone.localdate() + datetime.timedelta(days=given.days)
    return PageOpenedOut(address=request.build_absolute_uri(f"/c/{token}/"), until=until)


@router.post("/cards/{number}/page/end", response=list[CardGivenOut], auth=By(Role.EDITOR))
def close_card_page(request: HttpRequest, number: Number) -> list[CardGivenOut]:
    """The address of a card leads nowhere any more."""
    close_page(actor_of(request), number)
    return cards(request)


@router.get("/cards/card.{form}", response={200: None})
def card_file(request: HttpRequest, form: Form, given: Query[CardIn]) -> HttpResponse:
    """A card to print: a PDF, a page of its own, or plain text."""
    try:
        wish = TypeAdapter(CardWish).validate_json(given.wish)
    except ValidationError as error:
        first = error.errors()[0]
        raise Problem(400, "That says no card.", f"{'.'.join(map(str, first['loc']))}: {first['msg']}") from error
    card = drawn(wish, given.number)
    return _attachment(f"card-{id_from(card.title)}.{form}", _TYPES[form], FORMS[form](card))


@router.post("/cards/many", response=CardBatchOut)
def many_cards(request: HttpRequest, given: ManyCardsIn) -> CardBatchOut:
    """Have a card made for every role, on every keyboard that its people type on, in some languages; a worker does it."""
    estate, organisation = current_estate(), current_organisation()
    boards = dict.fromkeys((s.works_on, s.reads_by) for s in estate.setups.values())
    kind = {"of": "role", "paper": given.paper, "most": given.most}
    wishes = [
        CardWish.model_validate({**kind, "language": language, "who": role.id, "platform": platform, "layout": layout})
        for language in dict.fromkeys(given.languages)
        for role in organisation.roles
        for platform, layout in boards
    ]
    derived = current_derived()
    wishes = [w for w in wishes if setups_for(estate, w, derived)]
    if not wishes:
        raise NotFound("role with anybody at a keyboard")
    most = _MOST_IN_ONE if given.form == PRINT else _MOST_AT_ONCE
    if len(wishes) > most:
        cure = (
            "Take a zip of files, or fewer languages." if given.form == PRINT else "Take fewer languages, or make them singly."
        )
        raise Problem(409, "These are too many at once.", f"{len(wishes)} cards; {most} are the most.", cure)
    with transaction.atomic():
        batch = CardBatch.objects.create(
            wishes=[w.model_dump(mode="json") for w in wishes], form=given.form, made_by=actor_of(request).user
        )
        put_to_work(batch)
    return _batch(batch)


@router.get("/cards/many/{batch_id}", response=CardBatchOut)
def batch_of_cards(request: HttpRequest, batch_id: UUID) -> CardBatchOut:
    """How far a worker is with some cards."""
    return _batch(_own_batch(request, batch_id))


@router.get("/cards/many/{batch_id}/{name}", response={200: None})
def file_of_cards(request: HttpRequest, batch_id: UUID, name: Literal["cards.zip", "cards.pdf"]) -> HttpResponse:
    """Cards that were made together: a zip file, or one PDF where that was asked for."""
    batch = _own_batch(request, batch_id)
    if name != _file_name(batch):
        raise NotFound(f"{name}: these cards are in {_file_name(batch)}")
    if batch.file is None:
        raise Problem(409, "These cards aren't made yet.", f"{batch.done} of {len(batch.wishes)} are.", "Wait a moment.")
    return _attachment(name, "application/pdf" if batch.form == PRINT else "application/zip", bytes(batch.file))


def _own_batch(request: HttpRequest, batch_id: UUID) -> CardBatch:
    batch = CardBatch.objects.filter(pk=batch_id, made_by=actor_of(request).user).first()
    if batch is None:
        raise NotFound("batch of cards of yours")
    return batch


def _file_name(batch: CardBatch) -> str:
    return "cards.pdf" if batch.form == PRINT else "cards.zip"


def _batch(batch: CardBatch) -> CardBatchOut:
    return CardBatchOut(
        id=batch.pk,
        file=_file_name(batch),
        state=cast(BatchState, batch.state),
        done=batch.done,
        of=len(batch.wishes),
        says=batch.says,
    )


def _attachment(name: str, content_type: str, data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type=content_type, headers={"Content-Disposition": f'attachment; filename="{name}"'})


_TYPES: dict[Form, str] = {"pdf": "application/pdf", "html": "text/html; charset=utf-8", "txt": "text/plain; charset=utf-8"}


def _lines_of(card: Drawn, ids: Sequence[str]) -> list[CardLine]:
    """The lines of a card with some ids, each once."""
    found = {line.id: line for part in card.card.parts for line in part.lines}
    return [found[i] for i in ids]


def _out(card: Drawn) -> CardOut:
    estate, of = current_estate(), card.card
    laid, why_not = Laid(0, ()), ""
    try:
        laid = laid_out(card)
    except Problem as problem:
        why_not = f"{problem} {problem.body['cure']}"
    last = card.last
    return CardOut(
        title=card.title,
        organisation=card.organisation,
        foot=card.foot,
        parts=[CardPartOut(title=p.title, learned=p.learned, lines=[_line(v, of.people) for v in p.lines]) for p in of.parts],
        left_out=[LeftOutOut(id=i, name=name, why=why) for i, name, why in of.left_out],
        people=of.people,
        desks=[estate.setups[i].name for i in of.setups],
        last=LastCardOut(number=last.number, at=last.at, by=last.by.display_name) if last is not None else None,
        pages=laid.pages or None,
        beyond=[NamedOut(id=line.id, name=line.name) for line in _lines_of(card, laid.beyond)],
        why_not=why_not,
        text=card.text,
        between_presses=word("then", card.wish.language),
    )


def _line(line: CardLine, people: int) -> CardLineOut:
    says = ""
    if people >= FEWEST and line.minutes > 0:
        says = f"{say_minutes(line.minutes)} a week" if line.known else f"{round(line.minutes)} points a week, assumed"
    return CardLineOut(
        id=line.id,
        name=line.name,
        programs=list(line.where),
        keys=[ShortcutOut(text=k.text, words=k.words, caps=[list(p) for p in k.caps]) for k in line.keys],
        old=[ShortcutOut(text=k.text, words=k.words, caps=[list(p) for p in k.caps]) for k in line.old],
        notes=list(line.said),
        says=says,
    )


def _given(one: CardGiven) -> CardGivenOut:
    return CardGivenOut(
        number=one.number,
        title=title_of(one),
        people=one.people,
        by=one.by.display_name,
        at=one.at,
        wish=CardWish.model_validate(one.wish),
        open_until=one.open_until,
    )
