"""`amberkey coverage`: how far setups follow a standard."""

from argparse import Namespace
from collections.abc import Mapping
from dataclasses import replace

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.check import day_from
from amberkey.cli.files import board_from, estate_of, organisation_in, read_one, setups_in, shelf_of
from amberkey.core.clashes.estate import Estate
from amberkey.core.standard.compiling import compile_standard, with_layer
from amberkey.core.standard.coverage import Coverage, Covered, Gauge
from amberkey.core.standard.judging import COUNTED, STATES
from amberkey.core.standard.model import Standard


def coverage(asked: Namespace) -> tuple[list[Answer], int]:
    """Agreement of all setups with a standard. Exit code 1 where anything that could agree doesn't."""
    standard = read_one(asked.standard, Standard)
    setups = [setup for path in asked.setup for setup in setups_in(path)]
    shelf = shelf_of([*asked.setup, asked.standard], asked.more)
    estate = estate_of(setups, shelf, day_from(asked.today))
    census = organisation_in(asked.setup[0]) if len(asked.setup) == 1 else None
    if census is not None:
        estate = replace(estate, census=census)
    for setup in setups:
        board_from(estate, setup.id, shelf)
    if asked.compiled:
        estate = with_layer(estate, compile_standard(standard, estate))
    measured = Gauge().measure(estate, standard)
    whole = measured.whole()
    told = "as if compiled" if asked.compiled else "as people press today"
    rows = [("everything", *_words(whole))]
    rows += [(_program(estate, p), *_words(c)) for p, c in sorted(measured.by_program().items()) if c.plain.could]
    text = f"{standard.name}, {told}, on {estate.today}\n{columns([('', 'agree', 'could', 'share', 'by people'), *rows])}"
    if asked.tasks:
        tasks = [(_task(estate, t), *_words(c)) for t, c in sorted(measured.by_task().items())]
        text += f"\n\n{columns([('', 'agree', 'could', 'share', 'by people'), *tasks])}"
    open_cells = _open(measured)
    if asked.cells:
        text += "\n\n" + columns([(c["setup"], c["program"], c["task"], c["state"], str(c["why"])) for c in open_cells])
    facts: Facts = {
        "standard": standard.id,
        "compiled": asked.compiled,
        "day": str(estate.today),
        "whole": _facts(whole),
        "programs": {p: _facts(c) for p, c in measured.by_program().items()},
        "tasks": {t: _facts(c) for t, c in measured.by_task().items()},
        "states": {s: measured.states().get(s, 0) for s in STATES if s != "not_offered"},
        "open": open_cells,
    }
    return [Answer(text, facts)], int(whole.plain.agree < whole.plain.could)


def _open(measured: Coverage) -> list[dict[str, str]]:
    """What could agree and doesn't, and what can't or needn't, each with its reason."""
    return [
        {"setup": setup, "program": program, "task": task, "state": cell.state, "why": cell.why}
        for setup, strips in measured.strips.items()
        for program, strip in strips.items()
        for task, cell in strip.cells.items()
        if cell.state != "agrees" and (cell.state in COUNTED or cell.why)
    ]


def _facts(covered: Covered) -> Mapping[str, object]:
    plain, people = covered
    return {
        "agree": plain.agree,
        "could": plain.could,
        "share": plain.share,
        "people_agree": people.agree,
        "people_could": people.could,
        "people_share": people.share,
    }


def _words(covered: Covered) -> tuple[str, str, str, str]:
    plain, people = covered
    return str(plain.agree), str(plain.could), _percent(plain.share), _percent(people.share)


def _percent(share: float | None) -> str:
    return "-" if share is None else f"{100 * share:.1f} %"


def _program(estate: Estate, program: str) -> str:
    return next((p.name for (i, _), p in estate.programs.items() if i == program and p is not None), program)


def _task(estate: Estate, task: str) -> str:
    found = estate.tasks.task(task)
    return found.name if found else task
