"""The order of merged rows: that of the new reading, unless the clerk has changed the order himself."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Block, Document

Merge = tuple[Sequence[Block], Sequence[Block], Sequence[Block]]
"""The clerk's blocks of a group, those of the new reading, and what they came to."""


def in_order(base: Document, mine: Document, theirs: Document, merged: Sequence[Merge]) -> list[Block]:
    """All blocks of the merged document: those that were merged, and the clerk's others."""
    outcome_of_mine = {block.id: n for n, (own, _, _) in enumerate(merged) for block in own}
    outcome_of_theirs = {block.id: n for n, (_, read, _) in enumerate(merged) for block in read}
    moved = _order(mine, base) != _order(base, mine)
    if moved or not any(read for _, read, _ in merged):
        return _along(mine.blocks, theirs.blocks, outcome_of_mine, outcome_of_theirs, merged, leading_is_mine=True)
    return _along(theirs.blocks, mine.blocks, outcome_of_theirs, outcome_of_mine, merged, leading_is_mine=False)


def _order(document: Document, other: Document) -> list[str]:
    """The ids of the blocks that both documents have, in the order of the first."""
    shared = {block.id for block in other.blocks}
    return [block.id for block in document.blocks if block.id in shared]


def _along(
    leading: Sequence[Block],
    following: Sequence[Block],
    outcome_of_leading: dict[str, int],
    outcome_of_following: dict[str, int],
    merged: Sequence[Merge],
    *,
    leading_is_mine: bool,
) -> list[Block]:
    """Rows in the order of one side; what only the other side has comes behind what stands before it there."""
    mine_by_id = {block.id: block for block in (leading if leading_is_mine else following)}
    done: set[int] = set()
    placed: list[Block] = []

    def emit(block: Block, outcomes: dict[str, int], *, is_mine: bool) -> list[Block]:
        """What stands for a block of a side, once."""
        group = outcomes.get(block.id)
        if group is not None:
            own, read, blocks = merged[group]
            if group in done:
                return []
            names = {one.id for one in blocks}
            if block.id in names and len(blocks) > 1 and names <= {one.id for one in (own if is_mine else read)}:
                # Rows of a group that lie apart stay apart.
                return [one for one in blocks if one.id == block.id]
            done.add(group)
            return list(blocks)
        if is_mine:
            return [block]
        # The new reading's rows of pages that were not read again: the clerk's stand for them.
        return [mine_by_id[block.id]] if block.id in mine_by_id else []

    for block in leading:
        placed += emit(block, outcome_of_leading, is_mine=leading_is_mine)
    names = {block.id for block in placed}
    anchor: str | None = None
    behind: dict[str | None, list[Block]] = {}
    for block in following:
        if block.id in names:
            anchor = block.id
            continue
        group = outcome_of_following.get(block.id)
        if group is not None:
            outcome = merged[group][2]
            if any(one.id in names for one in outcome):
                anchor = next((one.id for one in reversed(outcome) if one.id in names), anchor)
            if group in done or any(one.id in names for one in outcome):
                continue
        new = [one for one in emit(block, outcome_of_following, is_mine=not leading_is_mine) if one.id not in names]
        names.update(one.id for one in new)
        behind.setdefault(anchor, []).extend(new)
    out = list(behind.get(None, ()))
    for block in placed:
        out.append(block)
        out += behind.get(block.id, ())
    return out
