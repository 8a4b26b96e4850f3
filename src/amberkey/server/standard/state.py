"""The standard as it is now, and what is worked out of it once for each state of the documents."""

import threading
from collections.abc import Sequence
from weakref import WeakKeyDictionary

from amberkey.core.clashes.estate import Estate
from amberkey.core.profiles.model import Profile
from amberkey.core.standard.compiling import LAYER
from amberkey.core.standard.coverage import Coverage
from amberkey.core.standard.findings import Finding, findings
from amberkey.core.standard.model import Standard
from amberkey.core.standard.setting import Plan, Planner
from amberkey.server.estate import current_estate, current_standard, decisions

LAYER_KEY = f"profile/{LAYER}"

_planner = Planner()
_working = threading.Lock()  # two requests at once would both work it out
_measured: WeakKeyDictionary[Estate, dict[tuple[str, frozenset[str]], Coverage]] = WeakKeyDictionary()
_found: WeakKeyDictionary[Estate, dict[str, list[Finding]]] = WeakKeyDictionary()


def current_layer(estate: Estate) -> Profile | None:
    """The compiled profile as it is in effect."""
    return estate.profiles.get(LAYER)


def allowed_clashes() -> frozenset[str]:
    return frozenset(a.clash for a in decisions().allowances)


def current_coverage() -> Coverage:
    """How far everybody is now: what people press today, held against the newest standard."""
    estate, standard, allowed = current_estate(), current_standard(), allowed_clashes()
    with _working:
        known = _measured.setdefault(estate, {})
        key = (standard.digest, allowed)
        if key not in known:
            known.clear()
            known[key] = _planner.gauge.measure(estate, standard, allowed)
        return known[key]


def coverage_of(estate: Estate, standard: Standard) -> Coverage:
    """How far everybody would be in an estate that isn't saved yet; what it shares with the present one is measured once."""
    with _working:
        return _planner.gauge.measure(estate, standard, allowed_clashes())


def plan_for(now: Standard, wanted: Standard) -> Plan:
    """What another standard would do, both of them compiled."""
    with _working:
        return _planner.plan(current_estate(), now, wanted)


def current_findings() -> list[Finding]:
    estate, standard = current_estate(), current_standard()
    with _working:
        known = _found.setdefault(estate, {})
        if standard.digest not in known:
            known.clear()
            known[standard.digest] = findings(estate, standard)
        return known[standard.digest]


def compiled(standard: Standard, revision: str) -> Profile:
    """The layer of a standard for the estate as it is."""
    with _working:
        return _planner.compiler.compile(standard, current_estate(), revision)


def setups_seen(
    estate: Estate, setup: str, everywhere: bool, layout: str = "", among: Sequence[str] | None = None
) -> list[str]:
    """The setups that a lens looks at: one, or all of its platform; of a layout and among some, if asked for."""
    if not everywhere:
        return [setup]
    platform = estate.setups[setup].works_on
    return [
        i
        for i, s in estate.setups.items()
        if s.works_on == platform and layout in ("", s.reads_by) and (among is None or i in among)
    ]
