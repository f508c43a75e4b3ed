"""Columns -> drafts: which lines belong to one paragraph, as was decided of each (see ``structure``), and how it is aligned."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from evenquill.core.evidence import OVER_TEXT, PlacedPicture
from evenquill.core.layout.flow import FlowEquation, FlowLine
from evenquill.core.layout.page import Column, PageLayout
from evenquill.core.layout.pictures_beside import side_of_picture
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.model import Align, Role, Spot
from evenquill.core.model.labels import is_caption
from evenquill.core.model.text import ends_sentence
from evenquill.core.rebuild.cell_lists import find_cell_lists
from evenquill.core.rebuild.code import carries_on, is_code, is_numbered_code
from evenquill.core.rebuild.counted import counted_lines
from evenquill.core.rebuild.drafts import AnyDraft, CellDraft, Draft, PictureDraft, TableDraft
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.index_entries import index_lines
from evenquill.core.rebuild.marks import CERTAIN, follows_mark, list_mark
from evenquill.core.rebuild.pair_blocks import PairBlock, pair_blocks, rows_of_block
from evenquill.core.rebuild.pairs import in_pairs
from evenquill.core.rebuild.structure.decide import Decisions
from evenquill.core.rebuild.structure.line_facts import had_room
from evenquill.core.rebuild.structure.segments import Decided
from evenquill.core.rebuild.tables import align_cells, cell_columns

INDENT = 0.7
"""Ems; the smallest first-line indent in use is about one em."""

FLUSH = 0.3
"""Ems by which justified lines may miss the column's edge: hanging hyphens, protruding letters."""

FEWEST_SENTENCES = 3
"""Lines that are each a sentence, from which they are as many paragraphs."""

CENTRED = 0.03
"""Share of the width by which the rooms at both sides of a line in the middle may differ."""

RIGHT_SHARE = 0.2
"""Share of the width that lines at the right edge leave free at the left."""

JUSTIFIED = 0.9
"""Share of the lines, the last aside, that end at the right edge in justified text."""

MIDDLE = 0.12
"""Share of the width that displayed equations leave free at the left if they stand in the middle, and not at an indent."""

SIZE_CHANGE = 0.08
"""Share by which sizes of one paragraph's lines may differ."""


def drafts_of(layouts: Iterable[PageLayout], decisions: Decisions, facts: Facts) -> tuple[list[AnyDraft], list[int]]:
    """All paragraphs and pictures of the document in reading order, and the places of those that begin a column: what a paragraph is cut by
    (see ``cuts``)."""
    drafts: list[AnyDraft] = []
    starts: list[int] = []
    for layout in layouts:
        top = True
        for column in layout.columns:
            # Most pages have margins alike at both sides: what ended before that had room for more.
            margin = layout.width - column.left if column.alone else column.right
            fresh = _column_drafts(column, decisions, facts, max(column.right, margin))
            for draft in fresh:
                draft.columns = column.beside
            if fresh and top:
                fresh[0].page_top = True
                top = False
            starts.append(len(drafts))
            drafts.extend(fresh)
        if layout.carried:
            _carry_on_note(drafts, layout.carried)
        for mark, lines in layout.notes:
            note = Draft(list(lines), min(line.x0 for line in lines), max(line.x1 for line in lines))
            note.role, note.note_mark = Role.NOTE, mark
            drafts.append(note)
    return drafts, starts


def _carry_on_note(drafts: list[AnyDraft], lines: Sequence[FlowLine]) -> None:
    """Gives the last note the lines that carry it on at the foot of the next page."""
    last = next(draft for draft in reversed(drafts) if isinstance(draft, Draft) and draft.role is Role.NOTE)
    last.lines.extend(lines)


def _column_drafts(column: Column, decisions: Decisions, facts: Facts, margin: float) -> list[AnyDraft]:
    drafts: list[AnyDraft] = []
    current: Draft | None = None
    previous: FlowLine | PlacedPicture | FlowTable | FlowEquation | None = None
    entries = column.contents
    blocks = {id(block.lines[0]): block for block in pair_blocks(column.items, decisions)}
    taken: set[int] = set()
    rows = [item for item in column.items if isinstance(item, FlowLine)]
    counted = counted_lines(rows, column.left)
    indexed = index_lines(rows, column.right)
    for item in column.items:
        if id(item) in taken:
            continue
        if isinstance(item, PlacedPicture):
            drafts.append(PictureDraft(item, column.page, column.left, column.right, side_of_picture(item, rows)))
            if item.kind not in OVER_TEXT:
                current, previous = None, item
            continue
        if isinstance(item, FlowTable):
            drafts.append(_table_draft(item, column, decisions, facts))
            current, previous = None, item
            continue
        if isinstance(item, FlowEquation):
            drafts.append(_equation_draft(item, column))
            current, previous = None, item
            continue
        entry = entries.get(id(item))
        if entry is not None:
            made = Draft(list(entry.lines), column.left, column.right, _gap(previous, item, facts))
            made.role, made.level = Role.CONTENTS, entry.depth
            taken.update(map(id, entry.as_read))
            drafts.append(made)
            current, previous = None, entry.lines[-1]
            continue
        block = blocks.get(id(item))
        if block is not None and not entries.keys() & set(map(id, block.lines)) and not is_code(block.lines, facts):
            drafts += _pair_drafts(block, column, decisions, _gap(previous, item, facts))
            taken.update(map(id, block.lines))
            current, previous = None, block.lines[-1]
            continue
        decided = _as_indexed(decisions[id(item)], indexed.get(id(item)))
        if current is not None and _is_more_code(current, item, facts):
            current.lines.append(item)
        elif (
            current is not None
            and decided.joint != "new"
            and id(item) not in counted
            and not _begins_anew(current, item, decided, facts)
        ):
            if decided.joint == "break" or (
                current.likely_role == "verse" and had_room(current.lines[-1], item, column.right)
            ):
                current.breaks.add(len(current.lines))
            current.seams[len(current.lines)] = decided.new_likelihood
            current.lines.append(item)
        else:
            current = Draft([item], column.left, column.right, _gap(previous, item, facts))
            current.likely_role, current.of_roles = decided.role, decided.of_roles
            if drafts and not isinstance(previous, FlowEquation):
                current.new_likelihood = decided.new_likelihood
            mark = counted.get(id(item)) or list_mark(item, of_item=decided.role == "item")
            mark = None if is_numbered_code([item], facts) else mark
            if id(item) in counted:
                current.likely_role = "item"
            if mark is not None:
                current.marker, current.mark_x, current.text_x = mark.text, item.x0, mark.text_x
            drafts.append(current)
        previous = item
    drafts = [part for draft in drafts for part in _without_run_together(draft, margin)]
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role not in (Role.CONTENTS, Role.EQUATION):
            if is_code(draft.lines, facts) and not draft.marker:
                draft.role = Role.CODE
            else:
                draft.lines = draft.lines if draft.breaks or draft.marker else in_pairs(draft.lines)
                draft.align = _alignment(draft)
                draft.inset = _inset(draft)
    for draft in _in_line_with_text(drafts):
        draft.align = Align.LEFT
    return drafts


def _as_indexed(decided: Decided, begins: bool | None) -> Decided:
    """What was decided of a line, or what it is in an index: whether it ``begins`` an entry there (None where it is in none)."""
    if begins is None:
        return decided
    return decided._replace(joint="new" if begins else "same", role="text", new_likelihood=float(begins))


def _pair_drafts(block: PairBlock, column: Column, decisions: Decisions, gap: float) -> list[Draft]:
    """The rows of a block of labels and values, a paragraph each; ``gap`` is the free height above the first one."""
    out: list[Draft] = []
    for row in rows_of_block(block, decisions):
        draft = Draft(row.lines, column.left, column.right, gap if not out else 0.0, breaks=set(row.breaks))
        draft.likely_role, draft.of_roles, draft.new_likelihood = row.decided.role, row.decided.of_roles, row.chance
        out.append(draft)
    return out


def _without_run_together(draft: AnyDraft, margin: float) -> list[AnyDraft]:
    """A paragraph of which each line is a sentence of its own as so many paragraphs: the lines of one seldom end so by chance.

    Two lines may; they are two paragraphs if the second would have begun in the first, before the ``margin``.
    """
    if (
        not isinstance(draft, Draft)
        or draft.role is Role.CONTENTS
        or len(draft.lines) < 2
        or not all(ends_sentence(line.text) and line.text[:1].isupper() for line in draft.lines)
    ):
        return [draft]
    first, second = draft.lines[:2]
    fits = had_room(first, second, margin)
    if len(draft.lines) < FEWEST_SENTENCES and not draft.breaks and not fits:
        return [draft]
    likely_role = "text" if draft.likely_role == "verse" else draft.likely_role
    return [
        replace(draft, lines=[line], gap=draft.gap if not n else 0.0, breaks=set(), likely_role=likely_role, seams={})
        for n, line in enumerate(draft.lines)
    ]


def _table_draft(table: FlowTable, column: Column, decisions: Decisions, facts: Facts) -> TableDraft:
    """A table with the paragraphs of its cells, which may be items of lists within these."""
    cells = []
    for cell, area in zip(table.cells, cell_columns(table), strict=True):
        own = [draft for draft in _column_drafts(area, decisions, facts, area.right) if isinstance(draft, Draft)]
        spots = (Spot(table.page, cell.box.rounded()),)
        cells.append(CellDraft(cell.row, cell.column, cell.rows, cell.columns, own, spots, cell.sides, cell.fill))
    find_cell_lists(cells)
    for text in (draft for cell in cells for draft in cell.drafts):
        text.role, text.level, text.marker, text.gap = Role.CELL, text.level if text.numbering else 0, "", 0.0
    align_cells(cells, table)
    spots = (Spot(table.page, table.box.rounded()),)
    return TableDraft(table.page, table.edges, cells, table.header_rows, table.ruled, spots, column.left, column.right)


def _is_more_code(draft: Draft, line: FlowLine, facts: Facts) -> bool:
    return not draft.marker and is_code((*draft.lines, line), facts) and carries_on(draft.lines, line, facts)


def _begins_anew(draft: Draft, line: FlowLine, decided: Decided, facts: Facts) -> bool:
    """Whether a line is certainly none of a paragraph: it begins with a sign that only items have, or as captions do, or text follows
    code, or it stands further out than the number of a counted item, or begins with the number after it, under it."""
    mark = list_mark(line)
    is_under = abs(line.x0 - draft.mark_x) < FLUSH * line.size
    if mark is not None and is_under and not mark.text.isalnum() and follows_mark(draft.marker, mark.text):
        return True
    if draft.marker.isdecimal() and draft.likely_role == "item" and line.x0 < draft.mark_x - FLUSH * line.size:
        return True
    if (mark is not None and mark.text in CERTAIN) or (decided.joint == "break" and is_caption(line.text)):
        return True
    return _leaves_code(draft, line, facts)


def _leaves_code(draft: Draft, line: FlowLine, facts: Facts) -> bool:
    """Whether text follows code, or code text: never one paragraph, but for a name that has come to stand alone in its line."""
    code = is_code(draft.lines, facts)
    return code and not draft.marker and not is_code((line,), facts)


def _equation_draft(item: FlowEquation, column: Column) -> Draft:
    """A displayed equation as a paragraph of its own; one that stands apart from the left edge is in the middle."""
    draft = Draft([item.line], column.left, column.right)
    draft.role = Role.EQUATION
    draft.align = Align.CENTER if item.box.x0 - column.left > MIDDLE * (column.right - column.left) else Align.LEFT
    return draft


def _gap(previous: FlowLine | PlacedPicture | FlowTable | FlowEquation | None, line: FlowLine, facts: Facts) -> float:
    if previous is None:
        return 0.0
    if not isinstance(previous, FlowLine):
        return max(line.box.y0 - previous.box.y1, 0.0)
    leading = facts.leading_of(line.size)
    return max(round((line.baseline - previous.baseline - leading) * 2) / 2, 0.0)


def _inset(draft: Draft) -> float:
    """Points by which a paragraph that stands in at the left also stands in at the right."""
    if len(draft.lines) < 2 or draft.indent < INDENT * draft.lines[0].size:
        return 0.0
    return max(draft.right - max(line.x1 for line in draft.lines), 0.0)


def _alignment(draft: Draft) -> Align:
    """Where the lines of a paragraph are in line: the edge, or the middle, from which they miss least.

    One line alone is in the middle, or at the right, only if it stands there and far from the left; an item begins at its mark.
    """
    lines = draft.lines
    if (draft.marker and draft.likely_role == "item") or any(line.tabbed for line in lines):
        return Align.LEFT
    size = lines[0].size
    lefts = [line.x0 - draft.left for line in lines]
    rights = [draft.right - line.x1 for line in lines]
    uneven = [left - right for left, right in zip(lefts, rights, strict=True)]
    apart = max(map(abs, uneven))
    set_in = len(lines) > 2 and _spread(lefts) < FLUSH * size
    in_middle = apart < max(CENTRED * (draft.right - draft.left), 2.0)
    if in_middle and not set_in and max(lefts) > size and min(lefts) > 0.3 * size:
        return Align.CENTER
    if len(lines) > 2 and max(lefts) > size > apart and _spread(lefts) > size and _spread(uneven) < 2 * FLUSH * size:
        return Align.CENTER
    if max(rights) < FLUSH * size and min(lefts) > RIGHT_SHARE * (draft.right - draft.left):
        return Align.RIGHT
    if max(rights) < FLUSH * size and _spread(lefts) > size and not _begin_alike(lefts[1:], size):
        return Align.RIGHT
    full = [right for n, right in enumerate(rights[:-1], 1) if n not in draft.breaks]
    if full and not draft.breaks and sum(right < FLUSH * size for right in full) >= JUSTIFIED * len(full):
        return Align.JUSTIFY
    return Align.LEFT


def _in_line_with_text(drafts: Sequence[AnyDraft]) -> list[Draft]:
    """Paragraphs of one line that seem to be in the middle, but begin where the text above or below does: they nearly fill it."""
    around = (None, *drafts, None)
    return [
        draft
        for above, draft, below in zip(around, drafts, around[2:], strict=False)
        if isinstance(draft, Draft)
        and draft.align is Align.CENTER
        and len(draft.lines) == 1
        and any(
            isinstance(other, Draft)
            and other.align in (Align.LEFT, Align.JUSTIFY)
            and abs(min(line.x0 for line in other.lines) - draft.lines[0].x0) < FLUSH * draft.lines[0].size
            for other in (above, below)
        )
    ]


def _begin_alike(lefts: Sequence[float], size: float) -> bool:
    """Whether the lines of a paragraph but the first begin in line at the left: its last happens to be full. One line alone tells that only
    at the edge itself."""
    return _spread(lefts) < FLUSH * size and (len(lefts) > 1 or lefts[0] < FLUSH * size)


def _spread(values: Sequence[float]) -> float:
    return max(values) - min(values)
