"""The work on a list that was sent: read as the last one was, held against what is here, taken or left waiting for a yes."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, cast
from uuid import UUID

from django.db import transaction

from amberkey.core.catalogue.headings import Field, match_headings
from amberkey.core.catalogue.tables import Table
from amberkey.core.documents.errors import DocumentError
from amberkey.core.exchange.errors import SheetError
from amberkey.core.exchange.lists.columns import ListKind, guess
from amberkey.core.exchange.lists.nightly import Memory, why_asked
from amberkey.core.keys.platform import Platform
from amberkey.server.catalogue import working as of_commands
from amberkey.server.catalogue.models import CommandList
from amberkey.server.estate import current_organisation
from amberkey.server.library.documents import known_programs
from amberkey.server.library.lists import ListState
from amberkey.server.nightly.models import Sender, SentList
from amberkey.server.organisation import working as of_people
from amberkey.server.organisation.models import ListImport
from amberkey.server.people.acting import Actor
from amberkey.server.people.models import Role
from amberkey.server.problems import NotAllowed, Problem

State = SentList.State
FIRST = "It is the first one: look once at how its headings are read."


@dataclass(frozen=True)
class _Looked:
    """What a list came to. `why`: why it waits, in sentences; `changed`: how much it would change; `listed`: the ids in it."""

    why: list[str]
    changed: int
    listed: frozenset[str]


def do(sent_id: UUID) -> None:
    """The job: works on a list and on those that the same sender sent before it, in their order, in one transaction. Does
    nothing where that has been done."""
    asked = SentList.objects.filter(id=sent_id, state=State.WORKING).first()
    if asked is None:
        return
    with transaction.atomic():
        sender = Sender.objects.select_for_update().select_related("made_by").get(pk=asked.sender_id)
        settle(sender)
        for sent in sender.sent.filter(state=State.WORKING, at__lte=asked.at).order_by("at", "id"):
            _work(sender, sent)


def fail(sent_id: UUID, why: str) -> None:
    """Ends the work on a list; it can be sent again."""
    SentList.objects.filter(id=sent_id, state=State.WORKING).update(state=State.FAILED, says=f"Nothing was taken. {why}")


def settle(sender: Sender) -> None:
    """Note what people did meanwhile with lists that waited, where they looked at them closely."""
    for sent in sender.sent.filter(state=State.WAITING).order_by("at"):
        found = sent.list
        if found is None or found.state == ListState.FAILED:
            _end(sent, State.FAILED, found.says if found else "It is not there any more.")
        elif found.state == ListState.TAKEN:
            sent.decided_by = found.actor
            _remember(sender, found, _listed(found), faulty=False)
            _end(sent, State.TAKEN, "")


def _work(sender: Sender, sent: SentList) -> None:
    found = sent.list
    if found is None:
        _end(sent, State.FAILED, "It is not there any more.")
        return
    try:
        with transaction.atomic():
            looked = _look(sender, found, again=sent.decided_by is not None)
    except (SheetError, DocumentError, Problem) as error:
        faults = getattr(error, "faults", ())
        found.state, found.says = ListState.FAILED, faults[0].sentence() if faults else str(error)
        looked = None
    if looked is None or found.state == ListState.FAILED:
        found.save()
        _end(sent, State.FAILED, found.says)
        return
    actor = sent.decided_by or sender.made_by
    why = [] if sent.decided_by else looked.why
    try:
        Actor(actor).require(Role.EDITOR)
        allowed = actor.is_active
    except NotAllowed:
        allowed = False
    if not allowed:
        why = [*why, f"{actor.display_name}, in whose name it would be taken, may not change anything any more."]
    if why:
        found.save()
        _replace_waiting(sender, sent)
        _end(sent, State.WAITING, " ".join(why))
        return
    found.actor = actor
    if looked.changed:
        try:
            with transaction.atomic():
                _take(found)
        except (DocumentError, Problem) as error:
            found.state = ListState.FAILED
            found.save()
            _end(sent, State.FAILED, f"Nothing was taken. {error}")
            return
    else:
        found.state = ListState.TAKEN
        found.save()
        if isinstance(found, ListImport) and found.kind == "people":
            of_people.let_go(found)
    _remember(sender, found, looked.listed, faulty=_bad(found) > 0)
    _replace_waiting(sender, sent)
    _end(sent, State.TAKEN if looked.changed else State.SAME, "" if looked.changed else "Everything is so already.")


def _look(sender: Sender, found: ListImport | CommandList, *, again: bool) -> _Looked:
    """Read a list as the last one was read, and hold it against what is here. `again`: as it was corrected by hand since."""
    memory = Memory.from_json(sender.memory)
    found.retiring, found.returning = sorted(memory.to_retire()), sorted(memory.retired)
    if isinstance(found, ListImport):
        why = _open(sender, found) if not again or not found.heads else []
        of_people.check(found)
        if _bad(found) and found.retiring:  # what can't be read isn't missing
            found.retiring = []
            of_people.check(found)
        result = _result(found)
        there = len(current_organisation().people if found.kind == "people" else current_organisation().machines)
        asked = why_asked(found.total, result.get("changed", 0), _bad(found), result.get("known", 0), there)
        return _Looked([*why, *asked], result.get("changed", 0), _listed(found))
    why = _open_commands(sender, found) if not again or not found.tables else []
    of_commands.check(found)
    if _bad(found) and found.retiring:
        found.retiring = []
        of_commands.check(found)
    counts = _result(found).get("counts", {})
    changed = sum(counts.get(what, 0) for what in ("adds", "changes", "retires", "returns"))
    rows = sum(counts.get(what, 0) for what in ("adds", "changes", "same", "contradicts", "unread"))
    known = sum(counts.get(what, 0) for what in ("changes", "same", "contradicts"))
    program, _ = of_commands.program_of(of_commands.Asked.model_validate(found.asked))
    return _Looked([*why, *why_asked(rows, changed, _bad(found), known, len(program.commands))], changed, _listed(found))


def _open(sender: Sender, found: ListImport) -> list[str]:
    """Match the headings of a list of people or machines as they were matched before. Returns why that needs a look."""
    of_people.opened(found, found.content.data)
    if not sender.matching:
        return [FIRST]
    places = {head: n for n, head in reversed(list(enumerate(found.heads)))}
    found.matching = {column: places[head] for head, column in sender.matching.items() if head in places}
    missing = [head for head in sender.matching if head not in places]
    if missing and not found.matching:
        found.matching = guess(cast(ListKind, found.kind), found.heads)
    return [_no_heading(head) for head in missing]


def _open_commands(sender: Sender, found: CommandList) -> list[str]:
    of_commands.opened(found)
    program = known_programs().get(sender.program)
    if program is None:
        raise Problem(409, f"There is no program {sender.program} any more.", cure="Make a token for another one.")
    asked = of_commands.Asked(program=f"{program.id}@{program.version}", platforms=cast(list[Platform], sender.platforms))
    table = of_commands.tables_of(found)[0]
    heads, head = _heads(table)
    missing: list[str] = []
    if sender.matching:
        places = {text: n for n, text in reversed(list(enumerate(heads)))}
        missing = [text for text in sender.matching if text not in places]
        columns = {places[text]: cast(Field, field) for text, field in sender.matching.items() if text in places}
        asked = asked.model_copy(update={"head": head, "columns": columns})
    found.asked = asked.model_dump(mode="json")
    return [_no_heading(text) for text in missing] if sender.matching else [FIRST]


def _no_heading(head: str) -> str:
    return f"It has no column {head} any more."


def _heads(table: Table) -> tuple[list[str], int]:
    """The headings of a table, by place, and the row in which they stand; 0 where there are none."""
    found = match_headings(table)
    row = next((r for r in table.rows if r.number == found.head), None)
    return list(row.cells) if row else [], found.head


def _result(found: ListImport | CommandList) -> dict[str, Any]:
    return cast(dict[str, Any], found.result.json()) if found.result else {}


def _bad(found: ListImport | CommandList) -> int:
    """How many rows break a rule."""
    result = _result(found)
    counts = result.get("counts", {})
    return int(result.get("bad", 0)) + int(counts.get("unread", 0)) + int(counts.get("contradicts", 0))


def _listed(found: ListImport | CommandList) -> frozenset[str]:
    result = _result(found)
    return frozenset(map(str, result.get("listed", result.get("said", {}))))


def _take(found: ListImport | CommandList) -> None:
    if isinstance(found, ListImport):
        of_people.take(found)
    else:
        of_commands.take(Actor(found.actor), found)
        found.save()


def _remember(sender: Sender, found: ListImport | CommandList, listed: frozenset[str], *, faulty: bool) -> None:
    """What the next list is held against, and how its headings are read. What a faulty list misses isn't counted."""
    memory = Memory.from_json(sender.memory)
    if faulty:
        listed |= memory.runs[0] if memory.runs else frozenset()
    sender.memory = memory.after(listed).to_json()
    sender.matching = _matching(found) or sender.matching
    sender.save(update_fields=["memory", "matching"])


def _matching(found: ListImport | CommandList) -> Mapping[str, str]:
    if isinstance(found, ListImport):
        return {found.heads[n]: column for column, n in found.matching.items()}
    table = of_commands.tables_of(found)[0]
    matched = of_commands.matching_of(of_commands.Asked.model_validate(found.asked), table)
    heads, _ = _heads(table)
    return {heads[n]: field for n, field in matched.columns.items() if n < len(heads) and heads[n]}


def _replace_waiting(sender: Sender, sent: SentList) -> None:
    """What waited says less than what came after it."""
    for older in sender.sent.filter(state=State.WAITING, at__lt=sent.at):
        let_go(older, "A newer list came.")
        _end(older, State.REPLACED, "A newer list came before anybody said yes.")


def let_go(sent: SentList, why: str) -> None:
    """Nothing of a list will be taken any more."""
    found = sent.list
    if found is None:
        return
    found.state, found.says = ListState.FAILED, why
    found.save()
    if isinstance(found, ListImport) and found.kind == "people":
        of_people.let_go(found)


def _end(sent: SentList, state: str, says: str) -> None:
    sent.state, sent.says = state, says[:1200]
    sent.save(update_fields=["state", "says", "decided_by"])
