"""Children that stand one behind the other with commas between, in brackets: cut and added by as few signs as can be."""

from collections.abc import Sequence, Set

from amberkey.core.containers.tree import Edit, Node


def flow_edits(text: str, parent: Node, spans: Sequence[tuple[int, int]], gone: Set[int], new: Sequence[str]) -> list[Edit]:
    """`spans`: from where to where each child stands; `new`: the texts of those that come behind the others."""
    kept = [n for n in range(len(spans)) if n not in gone]
    if not kept:
        return [(parent.start + 1, parent.end - 1, ", ".join(new))]
    edits: list[Edit] = []
    for n in sorted(gone):
        edits.append((spans[n][0], spans[n + 1][0], "") if n < kept[0] else (spans[n - 1][1], spans[n][1], ""))
    if new:
        gap = text[spans[-2][1] : spans[-1][0]] if len(spans) > 1 else ", "
        gap = gap if gap.strip() == "," else ", "
        place = spans[kept[-1]][1]
        edits.append((place, place, "".join(f"{gap}{one}" for one in new)))
    return edits
