"""Rows of tables that the end of a page or column cuts in two: what stands below it carries on cells of the last row above."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Sides
from evenquill.core.model.text import ends_broken, ends_sentence
from evenquill.core.rebuild.drafts import CellDraft, TableDraft, set_text
from evenquill.core.rebuild.facts import Facts


def carry_on_row(before: TableDraft, draft: TableDraft, row: int, facts: Facts) -> bool:
    """Puts the text of a row of a table into the cells of the last row of the one before, in place, if it carries that on.

    It does where nothing stands in its first column, and all that does stand in it goes on with a sentence that was begun above.
    """
    above = {cell.column: cell for cell in before.cells if cell.row + cell.rows == before.row_count}
    below = [cell for cell in draft.cells if cell.row == row]
    if not _carries_on(above, below):
        return False
    for cell in below:
        upper = above[cell.column]
        upper.sides = (upper.sides & ~Sides.BOTTOM) | (cell.sides & Sides.BOTTOM)
        upper.spots = (*upper.spots, *cell.spots)
        if cell.drafts:
            upper.drafts[-1].extend(cell.drafts[0])
            set_text(upper.drafts[-1], facts)
            upper.drafts += cell.drafts[1:]
    return True


def _carries_on(above: dict[int, CellDraft], below: Sequence[CellDraft]) -> bool:
    said = [cell for cell in below if cell.drafts]
    if not said or any(cell.rows > 1 or cell.column not in above for cell in below):
        return False
    if any(above[cell.column].columns != cell.columns for cell in below):
        return False
    first = min(below, key=lambda cell: cell.column)
    pairs = [(above[cell.column], cell) for cell in said]
    return (
        not first.drafts
        and bool(above[first.column].drafts)
        and all(_goes_on(upper, cell) for upper, cell in pairs)
        and any(len(upper.drafts[-1].lines) > 1 for upper, _ in pairs)
    )


def _goes_on(upper: CellDraft, cell: CellDraft) -> bool:
    """Whether the text of a cell goes on with that of the one above: in the middle of a sentence, or of a word."""
    if not upper.drafts:
        return False
    text, more = upper.drafts[-1].text, cell.drafts[0].text
    return ends_broken(text) or (not ends_sentence(text) and more[:1].islower())
