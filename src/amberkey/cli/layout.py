"""`amberkey layout`: what the keys of a layout type, level by level, and how sure that is."""

from argparse import Namespace

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.keyboards import layout_for
from amberkey.core.layouts.layout import LEVELS, Layout, Level, layout_ids, platforms_of


def layout(asked: Namespace) -> tuple[list[Answer], int]:
    """The layouts asked for, or a list of all where none is."""
    if not asked.layout:
        known = {i: list(platforms_of(i)) for i in layout_ids() if not asked.platform or asked.platform in platforms_of(i)}
        rows = [(i, layout_for(i, None).name, ", ".join(p)) for i, p in known.items()]
        return [Answer(columns(rows), {"layouts": known})], 0
    return [_answer(layout_for(name, asked.platform)) for name in asked.layout], 0


def _answer(found: Layout) -> Answer:
    keys = {code: dict(zip(LEVELS, map(_level, levels), strict=True)) for code, levels in found.keys.items()}
    rows: list[tuple[str, ...]] = [("key", *LEVELS)]
    rows += [(code, *map(_shown, levels)) for code, levels in found.keys.items()]
    if found.second:
        rows += [("own script", *("",) * len(LEVELS)), *((code, *map(_shown, own)) for code, own in found.second.items())]
    head = (
        f"{found.name} ({found.id}) on {found.platform}; ^ marks an accent, ? what is likely, the rest is recorded or derived"
    )
    facts: Facts = {"layout": found.id, "platform": found.platform, "keys": keys}
    if found.second:
        head += ". Shortcuts go by its Latin layer, which comes first; text is its own script"
        facts["own_script"] = {
            code: dict(zip(LEVELS, map(_level, levels), strict=True)) for code, levels in found.second.items()
        }
    return Answer(f"{head}\n{columns(rows)}", facts)


def _level(level: Level | None) -> Facts | None:
    if level is None:
        return None
    return {"dead" if level.dead else "text": level.text, "source": level.source}


def _shown(level: Level | None) -> str:
    if level is None:
        return "·"
    text = "space" if level.text == " " else level.text
    return f"{text}{'^' if level.dead else ''}{'?' if level.source == 'likely' else ''}"
