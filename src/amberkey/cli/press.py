"""`amberkey press`: reads shortcuts, words them, and says what makes them on a keyboard."""

from argparse import Namespace

from amberkey.cli.answer import Answer, Facts, columns, reach_facts, stroke_facts
from amberkey.cli.keyboards import body_for, layout_for, shortcut_from
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.keys.wording import words_of
from amberkey.core.layouts.bodies import Body
from amberkey.core.layouts.caps import printed_on
from amberkey.core.layouts.keyboard import keyboard_of, sides_in, ways_of
from amberkey.core.layouts.layout import Layout
from amberkey.core.layouts.reach import reach_of_sequence
from amberkey.core.layouts.strokes import Reading, canonical_on, say_derived
from amberkey.core.layouts.typing import need_of, types


def press(asked: Namespace) -> tuple[list[Answer], int]:
    """Each shortcut on each layout. Exit code 1 where one can't be made."""
    names = [name for given in asked.layout or ["us"] for name in given.split(",")]
    layouts = [layout_for(name, asked.platform) for name in names]
    shortcuts = [shortcut_from(text) for text in asked.shortcut]
    answers = [_answer(s, layout, body_for(asked.body, layout), asked.reads) for s in shortcuts for layout in layouts]
    return answers, int(any(not a.facts["strokes"] for a in answers))


def _answer(shortcut: Shortcut, layout: Layout, body: Body, reads: Reading) -> Answer:
    resolved = shortcut.resolve(layout.platform)
    forms = [canonical_on(p, layout, reads) for p in resolved.presses]
    canonical = Shortcut(tuple(p for p, _ in forms))
    derived = [said for p in resolved.presses if (said := say_derived(p, layout, reads))]
    notes = [*(note for _, note in forms if note), *derived]
    keyboard = keyboard_of(layout, body, {}, True, sides_in(resolved.presses, layout))
    ways, unreachable = ways_of(resolved, keyboard, reads)
    first = ways[0][0] if ways else None
    level = types(first, layout) if first else None
    reach = reach_of_sequence(ways[0], body) if ways else None
    facts: Facts = {
        "canonical": str(canonical),
        "words": words_of(canonical, layout.platform, layout.language, printed=printed_on(layout)),
        "layout": layout.id,
        "platform": layout.platform,
        "body": body.id,
        "reads": reads,
        "strokes": [[stroke_facts(s) for s in way] for way in ways],
        "types": level.text if level and not level.dead else None,
        "accent": level.text if level and level.dead else None,
        "needed": need_of(first, layout) == "needed" if first else False,
        "reach": reach_facts(reach) if reach else None,
        "derived": bool(derived),
        "note": "; ".join(notes) or None,
        "unreachable": unreachable or None,
    }
    rows = [
        ("canonical", str(canonical)),
        ("words", str(facts["words"])),
        ("on", f"{layout.name}, {layout.platform}, {body.name}"),
    ]
    rows += [("press", " then ".join(map(str, way))) for way in ways]
    if unreachable:
        rows.append(("can't be", unreachable))
    if level is not None:
        rows.append(("begins" if level.dead else "types", level.text))
    if reach is not None:
        rows.append(("reach", ", ".join([str(reach.score), *reach.flags])))
    rows += [("note", note) for note in notes]
    return Answer(columns(rows), facts)
