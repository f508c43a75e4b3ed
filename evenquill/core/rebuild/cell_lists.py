"""Lists within cells of tables: which of the marks that their paragraphs begin with are those of items.

A sign or a number before the text of a cell is mostly text of it: a tick, a dash, a number of a row. Two in one cell, at one edge, are
marks of items; and so is then the same sign in another cell of the table.
"""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.rebuild.drafts import AnyDraft, CellDraft, Draft
from evenquill.core.rebuild.lists import find_lists
from evenquill.core.rebuild.marks import CERTAIN, follows_mark, readings

SAME_EDGE = 0.3
"""Ems by which marks of one list in a cell may stand apart."""

ANSWERS = frozenset("✓✔➢➤☆❖")
"""Signs that stand alone in cells as what they say."""


def find_cell_lists(cells: Sequence[CellDraft]) -> None:
    """Turns paragraphs of cells that are items of lists into such, with their depth and numbering."""
    listed = [cell for cell in cells if _has_list(cell.drafts)]
    signs = {draft.marker for cell in listed for draft in cell.drafts} & (CERTAIN - ANSWERS)
    for cell in cells:
        if cell in listed or any(draft.marker in signs for draft in cell.drafts):
            items: list[AnyDraft] = list(cell.drafts)
            for draft in cell.drafts:
                draft.likely_role = "item" if draft.marker else "text"
            find_lists(items)


def _has_list(drafts: Sequence[Draft]) -> bool:
    """Whether two paragraphs of a cell begin with one sign, or with numbers that follow one another, at one edge."""
    marked = [draft for draft in drafts if draft.marker and not is_number(_behind_mark(draft))]
    return any(
        abs(below.mark_x - above.mark_x) <= SAME_EDGE * above.lines[0].size and _go_together(above.marker, below.marker)
        for n, above in enumerate(marked)
        for below in marked[n + 1 :]
    )


def _behind_mark(draft: Draft) -> str:
    return draft.lines[0].text.removeprefix(draft.marker).strip()


def _go_together(above: str, below: str) -> bool:
    return follows_mark(above, below) or (above == below and not readings(above))
