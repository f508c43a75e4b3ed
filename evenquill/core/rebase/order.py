"""The order of merged rows: that of the new reading, unless the clerk has changed the order himself."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence, Set

from evenquill.core.model import Block, Document

Merge = tuple[Sequence[Block], Sequence[Block], Sequence[Block]]
"""The clerk's blocks of a group, those of the new reading, and what they came to."""


def in_order(base: Document, mine: Document, theirs: Document, merged: Sequence[Merge]) -> list[Block]:
    """All blocks of the merged document: those that were merged, and the clerk's others, each once."""
    of_mine = {block.id: outcome for own, _, outcome in merged for block in own}
    of_theirs = {block.id: outcome for _, read, outcome in merged for block in read}
    blocks = {block.id: block for block in mine.blocks if block.id not in of_mine}
    blocks |= {block.id: block for _, _, outcome in merged for block in outcome}
    moved = _order(mine, base) != _order(base, mine)
    if moved or not any(read for _, read, _ in merged):
        names = _along(mine.blocks, of_mine, theirs.blocks, of_theirs, blocks.keys())
    else:
        names = _along(theirs.blocks, of_theirs, mine.blocks, of_mine, blocks.keys())
    return [blocks[name] for name in names]


def _order(document: Document, other: Document) -> list[str]:
    """The ids of the blocks that both documents have, in the order of the first."""
    shared = {block.id for block in other.blocks}
    return [block.id for block in document.blocks if block.id in shared]


def _along(
    leading: Sequence[Block],
    of_leading: dict[str, Sequence[Block]],
    following: Sequence[Block],
    of_following: dict[str, Sequence[Block]],
    wanted: Set[str],
) -> list[str]:
    """The wanted ids in the order of one side; what only the other side has comes behind what stands before it there.

    A block that is not wanted itself gives its place to what its group came to, if nothing of that is on the leading side.
    """
    of_leading_side = {block.id for block in leading}
    placed: dict[str, None] = {}
    for block in leading:
        if block.id in wanted:
            placed[block.id] = None
            continue
        outcome = of_leading.get(block.id, ())
        if not any(one.id in of_leading_side for one in outcome):
            placed.update(dict.fromkeys(one.id for one in outcome))
    anchor: str | None = None
    anchors: dict[str, str | None] = {name: name for name in placed}
    behind: dict[str | None, list[str]] = defaultdict(list)
    for block in following:
        if block.id in wanted and block.id not in anchors:
            anchors[block.id] = anchor
            behind[anchor].append(block.id)
        stand = [block] if block.id in wanted else of_following.get(block.id, ())
        anchor = next((anchors[one.id] for one in reversed(stand) if one.id in anchors), anchor)
    out = list(behind[None])
    for name in placed:
        out += (name, *behind.get(name, ()))
    return out
