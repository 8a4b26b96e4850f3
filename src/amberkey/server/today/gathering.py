"""Where matters come from: each is a sentence with the place where it is decided."""

import datetime
from collections.abc import Iterator, Mapping
from urllib.parse import urlencode
from weakref import WeakKeyDictionary

from django.db.models import Count, Q
from django.utils import timezone

from amberkey.core.cards.content import changed_since, setups_for
from amberkey.core.cards.wish import CardWish
from amberkey.core.clashes.estate import Estate, Group
from amberkey.core.clashes.untested import untested
from amberkey.core.exchange.approving import Sensitive
from amberkey.core.profiles.decisions import Allowance
from amberkey.core.standard.findings import running_out
from amberkey.core.today.matters import Matter, in_order
from amberkey.server.cards.models import CardGiven
from amberkey.server.estate import current_derived, current_estate, current_standard, decisions, in_sight, new_since_given
from amberkey.server.fleet.kept import refresh
from amberkey.server.fleet.models import MachineFile
from amberkey.server.inventory.upgrades import waiting_upgrades
from amberkey.server.library.approving import author_of, standing
from amberkey.server.library.documents import not_as_released, programs_by_key
from amberkey.server.library.sight import sees_document
from amberkey.server.library.verbs.release import RELEASED
from amberkey.server.nightly.models import SentList
from amberkey.server.people.models import Role, User
from amberkey.server.records.models import Record
from amberkey.server.records.untested import changes, tests
from amberkey.server.rollouts.models import Carried, Plan
from amberkey.server.workbench.clashes.told import brief

_NEAR = datetime.timedelta(days=14)
"""An allowance is told so long before its last day."""


def matters_for(user: User) -> list[Matter]:
    """What needs somebody, in order, as far as a person's role can do anything about it."""
    rank = user.acting_role.rank
    found: list[Matter] = []
    if rank >= Role.EDITOR.rank:
        found += [*_clashes(), *_exceptions(), *_upgrades(), *_untested(), *_without_a_task(), *_lists(), *_cards()]
    if rank >= Role.RELEASER.rank:
        found += [*_releases(), *_drift(), *_approvals(user), *_unreleased()]
    return in_order(found, timezone.localdate())


def _clashes() -> Iterator[Matter]:
    """Clashes that are new since machines were given anything, and allowances that end."""
    estate, document, today = current_estate(), decisions(), timezone.localdate()
    allowed = {a.clash: a for a in document.allowances}
    meant = {m.clash for m in document.meant if m.meant}
    groups = {g.clash.identity: g for g in estate.groups() if g.clash.identity not in meant}
    new = [groups[i] for i in new_since_given(estate) if i in groups and _is_open(groups[i], allowed, today)]
    if new:
        new.sort(key=lambda g: (-g.people, g.clash.identity))
        told = _brief(new[0], estate)
        more = f"{told} among them" if len(new) > 1 else told
        says = f"{_many(len(new), 'clash is', 'clashes are')} new since machines were given anything: {more}."
        people = estate.people_of({s.id: s for g in new for s in g.setups}.values())
        yield Matter("new clashes", "new clashes", says, "/clashes?seen=all&f.new=1", people)
    for one in document.allowances:
        group = groups.get(one.clash)
        if one.until is None or group is None or one.until > today + _NEAR:
            continue
        ends = f"ran out on {one.until}" if one.until < today else f"runs out on {one.until}"
        to = f"/clashes?{urlencode({'setup': group.setups[0].id, 'show': 'allowed', 'clash': one.clash})}"
        if one.until < today:
            to = to.replace("show=allowed&", "")
        says = f"What was allowed {ends}: {one.says.rstrip('.')}."
        yield Matter(f"allowance {one.clash}", "allowance", says, to, group.people, one.until)


def _is_open(group: Group, allowed: Mapping[str, Allowance], today: datetime.date) -> bool:
    allowance = allowed.get(group.clash.identity)
    if group.clash.severity == "low":
        return False
    return allowance is None or not allowance.holds(today, group.clash.severity, frozenset(s.id for s in group.setups))


def _brief(group: Group, estate: Estate) -> str:
    seen = next((s.id for s in group.setups if in_sight(s.id)), None)
    return brief(group, estate.board(seen)) if seen is not None else "one in somebody's own settings"


def _exceptions() -> Iterator[Matter]:
    standard = current_standard()
    until = {e.key: e.until for e in standard.exceptions}
    for one in running_out(current_estate(), standard):
        yield Matter(f"exception {one.item}", "exception", one.says, "/standard?show=findings", 0, until.get(one.item or ""))


def _upgrades() -> Iterator[Matter]:
    for one in waiting_upgrades():
        to = f"/programs/upgrade?{urlencode({'of': one.program, 'old': one.old, 'new': one.new})}"
        have = _many(one.machines, "machine has", "machines have")
        says = f"{have} {one.name} {one.old}, and there is {one.new}: look what changes."
        yield Matter(f"upgrade {one.program} {one.old}", "upgrade", says, to, one.people)


def _untested() -> Iterator[Matter]:
    kept = list(Record.objects.filter(removed=False).select_related("actor"))
    found = untested(current_estate(), changes(), tests(kept))
    if found:
        says = f"{_many(len(found), 'change was', 'changes were')} never tried, or would be otherwise by now."
        yield Matter("untested", "untested", says, "/try?show=untested")


def _without_a_task() -> Iterator[Matter]:
    tasks = current_estate().tasks.tasks
    open_ones = [c for p in programs_by_key().values() if p.kind != "system" for c in p.commands if c.task is None]
    open_ones = [c for c in open_ones if not c.retired and c.kind == "built-in"]
    if tasks and open_ones:
        says = f"{_many(len(open_ones), 'command has', 'commands have')} no task: say yes to what is proposed for them."
        yield Matter("without a task", "without a task", says, "/programs/matching")


_cards_of: WeakKeyDictionary[Estate, dict[int, int]] = WeakKeyDictionary()
"""For each state of the estate, by the number of a card, on how many of its keys something else holds by now."""
_CARDS = 20
"""So many audiences are looked at, those that were handed a card last."""


def _cards() -> Iterator[Matter]:
    """Cards that were handed out and say of keys what holds no longer."""
    estate, derived = current_estate(), current_derived()
    known = _cards_of.setdefault(estate, {})
    newest: dict[str, CardGiven] = {}
    for given in CardGiven.objects.order_by("-number")[: 10 * _CARDS]:
        newest.setdefault(given.audience, given)
    for given in list(newest.values())[:_CARDS]:
        wish = CardWish.model_validate(given.wish)
        setups = setups_for(estate, wish, derived)
        if given.number not in known:
            known[given.number] = len(changed_since(estate, setups, given.stood)) if setups else 0
        changed = known[given.number]
        if changed:
            have = _many(changed, "command has", "commands have")
            # Whose it is stays here: what is told goes out as a feed, too.
            named = "for one person" if wish.of == "person" else given.title
            says = f"Card {given.number}, {named}, is out of date: {have} other keys now."
            whom = f"{wish.of} {wish.who}" if wish.who is not None else wish.of
            to = f"/cards?{urlencode({'whom': whom, 'keyboard': f'{wish.platform} {wish.layout}'})}"
            yield Matter(f"card {given.number}", "card", says, to, given.people)


def _lists() -> Iterator[Matter]:
    waiting = SentList.objects.filter(state=SentList.State.WAITING).count()
    if waiting:
        says = f"{_many(waiting, 'nightly list waits', 'nightly lists wait')} for a yes."
        yield Matter("lists", "list", says, "/organisation/nightly")


def _releases() -> Iterator[Matter]:
    stopped = Q(rows__state__in=(Carried.State.STOPPED, Carried.State.OWN_CHANGE))
    plans = Plan.objects.filter(state__in=(Plan.State.RUNNING, Plan.State.PAUSED))
    for plan in plans.annotate(stopped=Count("rows__machine", filter=stopped, distinct=True)).order_by("number"):
        named = f"Release {plan.number}, {plan.title},"
        if plan.stopped:
            says = f"{named} is stopped on {_many(plan.stopped, 'machine', 'machines')}."
        elif plan.state == Plan.State.PAUSED:
            says = f"{named} is paused."
        else:
            continue
        yield Matter(f"release {plan.pk}", "release", says, f"/machines/releases/{plan.pk}")


def _drift() -> Iterator[Matter]:
    refresh()
    states = MachineFile.objects.filter(standing__state__in=("drifted", "problem")).values_list("standing__state")
    machines = dict(states.annotate(many=Count("machine", distinct=True)))
    if machines.get("drifted"):
        says = f"On {_many(machines['drifted'], 'machine', 'machines')} somebody changed what was written there."
        yield Matter("drift", "drift", says, "/machines/drift")
    if machines.get("problem"):
        says = f"Settings files of {_many(machines['problem'], 'machine', 'machines')} can't be read or written."
        yield Matter("unreadable", "unreadable", says, "/machines?state=problem")


def _approvals(user: User) -> Iterator[Matter]:
    waiting = [s for s in standing() if s.approval is None and not _wrote(user, s.key, s.sensitive)]
    if waiting:
        says = (
            f"{_many(len(waiting), 'content waits', 'contents wait')} for your yes: it runs something or says where files lie."
        )
        yield Matter("approvals", "approval", says, "/profiles")


def _wrote(user: User, key: str, sensitive: Sensitive) -> bool:
    written = author_of(key, sensitive)
    return written is not None and written.author_id == user.pk


def _unreleased() -> Iterator[Matter]:
    rows = not_as_released().filter(format__in=RELEASED).values_list("key", flat=True)
    waiting = [k for k in rows if not k.startswith("profile/") or sees_document(k)]
    if waiting:
        says = f"{_many(len(waiting), 'document is', 'documents are')} not what machines may have: release what is ready."
        yield Matter("unreleased", "unreleased", says, "/profiles")


def _many(count: int, one: str, several: str) -> str:
    return f"{count} {one if count == 1 else several}"
