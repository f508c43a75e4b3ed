"""Columns -> drafts: which lines belong to one paragraph.

For each pair of lines: has the look or the distance changed, is one indented, does a list mark begin, and above all: would the
next line's first word have fitted at the end of this one? Where it would, the writer broke the line there.
"""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Iterable, Sequence

from evenquill.core.evidence import PlacedPicture, Type
from evenquill.core.layout.flow import LABEL, SHIFTED, FlowLine
from evenquill.core.layout.page import Column, PageLayout
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.model import Align, Family, Role, Spot
from evenquill.core.model.labels import is_caption
from evenquill.core.model.text import ends_broken, ends_sentence
from evenquill.core.rebuild.code import carries_on, is_code
from evenquill.core.rebuild.contents import contents_of
from evenquill.core.rebuild.drafts import AnyDraft, CellDraft, Draft, PictureDraft, TableDraft
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.headings import LARGER
from evenquill.core.rebuild.hyphens import runs_on_unbroken
from evenquill.core.rebuild.marks import ListMark, is_of_levels, list_mark
from evenquill.core.rebuild.tables import align_cells, cell_columns

LOOSER = 0.22
"""Ems beyond the usual leading from which lines are apart."""

INDENT = 0.7
"""Ems; the smallest first-line indent in use is about one em."""

FITS = 0.35
"""Ems that a word must have had to spare to be called one that would have fitted."""

SPACE = 0.25
"""Ems; a usual space."""

SHORT = 0.86
"""Share of the column's width below which a line is short."""

NARROWEST = 0.5
"""Share of the column's width that text set narrower still fills."""

WRAPPED = 0.75
"""Share of lines that end because the next word would not have fitted, in running text."""

PHRASES = 0.75
"""Share of lines that end with a sign, in verse."""

FLUSH = 0.3
"""Ems by which justified lines may miss the column's edge: hanging hyphens, protruding letters."""

FEWEST_INDENTED = 2
"""Paragraphs with first lines of one indent that show it to be the document's."""

SIZE_CHANGE = 0.08
"""Share by which sizes of one paragraph's lines may differ."""


def drafts_of(layouts: Iterable[PageLayout], facts: Facts) -> list[AnyDraft]:
    """All paragraphs and pictures of the document in reading order; those cut by a column or page end joined."""
    drafts: list[AnyDraft] = []
    layouts = list(layouts)
    indents = _first_line_indents(layouts, facts)
    for layout in layouts:
        top = True
        for column in layout.columns:
            fresh = _column_drafts(column, facts, indents)
            for draft in fresh:
                draft.columns = column.beside
            if fresh and top:
                fresh[0].page_top = True
                top = False
            _append(drafts, fresh, facts)
        for mark, lines in layout.notes:
            if not mark:
                _carry_on_note(drafts, lines)
                continue
            note = Draft(list(lines), min(line.x0 for line in lines), max(line.x1 for line in lines))
            note.role, note.note_mark = Role.NOTE, mark
            drafts.append(note)
    return drafts


def _carry_on_note(drafts: list[AnyDraft], lines: Sequence[FlowLine]) -> None:
    """Gives the last note the lines that carry it on at the foot of the next page."""
    last = next(draft for draft in reversed(drafts) if isinstance(draft, Draft) and draft.role is Role.NOTE)
    last.lines.extend(lines)


def _first_line_indents(layouts: Sequence[PageLayout], facts: Facts) -> frozenset[int]:
    """The indents of first lines, to the point: a full line that begins there is followed by one at the column's edge."""
    counts: Counter[int] = Counter()
    for layout in layouts:
        for column in layout.columns:
            lines = [item for item in column.items if isinstance(item, FlowLine)]
            for above, below in itertools.pairwise(lines):
                indent = above.x0 - column.left
                if (
                    indent > INDENT * above.size
                    and below.x0 - column.left < 1.0
                    and below.baseline - above.baseline < facts.leading_of(above.size) + LOOSER * above.size
                    and not _is_forced(Draft([above], column.left, column.right), below)
                ):
                    counts[round(indent)] += 1
    return frozenset(indent for indent, count in counts.items() if count >= FEWEST_INDENTED)


def _column_drafts(column: Column, facts: Facts, indents: frozenset[int]) -> list[AnyDraft]:
    drafts: list[AnyDraft] = []
    current: Draft | None = None
    previous: FlowLine | PlacedPicture | FlowTable | None = None
    lines = [item for item in column.items if isinstance(item, FlowLine)]
    following: dict[int, FlowLine | None] = dict(zip(map(id, lines), [*lines[1:], None], strict=False))
    firsts = frozenset(id(line) for line in lines if round(line.x0 - column.left) in indents)
    rights = _right_edges(lines, column, firsts)
    entries = contents_of(column)
    taken: set[int] = set()
    for item in column.items:
        if id(item) in taken:
            continue
        if isinstance(item, PlacedPicture):
            drafts.append(PictureDraft(item, column.page, column.left, column.right))
            current, previous = None, item
            continue
        if isinstance(item, FlowTable):
            drafts.append(_table_draft(item, column, facts))
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
        if current is not None and _is_more_code(current, item, facts):
            current.lines.append(item)
        elif current is not None and _belongs(current, item, following[id(item)], facts, begins=id(item) in firsts):
            stays = _is_forced(current, item) and not _goes_on_in_small_letters(current, item)
            current.verse = current.verse or stays
            current.lines.append(item)
        else:
            right = rights[id(item)]
            current = Draft([item], column.left, right, _gap(previous, item, facts), inset=column.right - right)
            mark = list_mark(item)
            if mark is not None:
                _mark_as_item(current, mark)
            drafts.append(current)
        previous = item
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is not Role.CONTENTS:
            if is_code(draft.lines, facts) and not draft.marker:
                draft.role = Role.CODE
            else:
                draft.align = _alignment(draft)
    return drafts


def _table_draft(table: FlowTable, column: Column, facts: Facts) -> TableDraft:
    """A table with the paragraphs of its cells; what looks like a list mark there is text."""
    cells = []
    for cell, area in zip(table.cells, cell_columns(table), strict=True):
        own = [draft for draft in _column_drafts(area, facts, frozenset()) if isinstance(draft, Draft)]
        for draft in own:
            draft.role, draft.level, draft.marker, draft.gap = Role.CELL, 0, "", 0.0
        spots = (Spot(table.page, cell.box.rounded()),)
        cells.append(CellDraft(cell.row, cell.column, cell.rows, cell.columns, own, spots))
    align_cells(cells, table)
    spots = (Spot(table.page, table.box.rounded()),)
    return TableDraft(table.page, table.edges, cells, table.header_rows, table.ruled, spots, column.left, column.right)


def _is_more_code(draft: Draft, line: FlowLine, facts: Facts) -> bool:
    return not draft.marker and is_code((*draft.lines, line), facts) and carries_on(draft.lines, line, facts)


def _right_edges(lines: list[FlowLine], column: Column, firsts: frozenset[int]) -> dict[int, float]:
    """For each line (by id) the right edge that its paragraph keeps to.

    That is the column's, but for text set narrower than the rest: lines of one left edge and size that all but fill a width of
    their own, or one that is as far from the right as from the left. ``firsts`` (by id) are those that stand in like first lines.
    """
    edges = {id(line): column.right for line in lines}
    runs: list[list[FlowLine]] = []
    for line in lines:
        last = runs[-1][-1] if runs else None
        if (
            last is not None
            and abs(line.x0 - last.x0) < 2.0
            and abs(line.size - last.size) < SIZE_CHANGE * last.size
            and line.baseline - last.baseline < 2 * line.size
            and id(line) not in firsts
        ):
            runs[-1].append(line)
        else:
            runs.append([line])
    for run in runs:
        right = max(line.x1 for line in run)
        if len(run) == 1 or right - run[0].x0 < NARROWEST * (column.right - column.left):
            continue
        indent = run[0].x0 - column.left
        alike = column.right - indent
        if len(run) > 2 and _fills(run, column.left, right) and not _ends_in_phrases(run):
            edges.update((id(line), right) for line in run)
        elif indent > INDENT * run[0].size and right < alike + FLUSH * run[0].size and _fills(run, column.left, alike):
            edges.update((id(line), alike) for line in run)
    return edges


def _ends_in_phrases(lines: list[FlowLine]) -> bool:
    """Whether most lines end with a sign, as those of verse do."""
    return sum(line.text[-1:] in ",;:.!?—–" for line in lines) >= PHRASES * len(lines)


def _fills(lines: list[FlowLine], left: float, right: float) -> bool:
    """Whether most of the lines end where the next word would not have fitted before an edge."""
    trial = Draft([], left, right)
    wrapped = 0
    for above, below in itertools.pairwise(lines):
        trial.lines = [above]
        wrapped += not _is_forced(trial, below)
    return wrapped >= WRAPPED * (len(lines) - 1)


def _mark_as_item(draft: Draft, mark: ListMark) -> None:
    draft.marker, draft.mark_x, draft.text_x = mark.text, draft.lines[0].x0, mark.text_x


def _gap(previous: FlowLine | PlacedPicture | FlowTable | None, line: FlowLine, facts: Facts) -> float:
    if previous is None:
        return 0.0
    if not isinstance(previous, FlowLine):
        return max(line.box.y0 - previous.box.y1, 0.0)
    leading = facts.leading_of(line.size)
    return max(round((line.baseline - previous.baseline - leading) * 2) / 2, 0.0)


def _belongs(draft: Draft, line: FlowLine, after: FlowLine | None, facts: Facts, *, begins: bool) -> bool:
    """Whether ``line`` carries on ``draft``; ``begins`` says that it stands in like the first line of a paragraph."""
    last = draft.lines[-1]
    size = last.size
    if last.tag >= 0 and line.tag >= 0 and last.page == line.page and not (last.tabbed or line.tabbed):
        return last.tag == line.tag
    if last.tabbed or line.tabbed or last.words[-1].leader:
        return False
    flush_right = _is_flush_right(last, draft) and _is_flush_right(line, draft)
    centred = _are_centred((last, line), draft)
    # A sender at the right edge, or centred as a letterhead, is one block, though the name in it may be bold.
    if abs(line.size - size) > SIZE_CHANGE * size:
        return False
    if _changes_look(last, line) and not flush_right and not centred and not _runs_into_code(draft, line):
        return False
    distance = line.baseline - last.baseline
    usual = _usual_distance(draft, facts)
    if distance > usual + LOOSER * size or distance <= 0.3 * size:
        return False
    forced = _is_forced(draft, line)
    mark = list_mark(line)
    if mark is not None:
        # A figure in running text may look like a number of several levels.
        after_any = (draft.marker or last.text.endswith(",")) and not is_of_levels(mark.text)
        if forced or ends_sentence(last.text) or after_any:
            return False
    if ends_broken(last.text) and not forced:
        return True
    if draft.marker:
        # An item goes on under its text, or under its mark where the list does not hang.
        hangs = line.x0 > draft.mark_x + 0.3 * size
        if hangs:
            return abs(line.x0 - draft.text_x) < 1.0 * size or (len(draft.lines) > 1 and abs(line.x0 - last.x0) < 2)
        back = abs(line.x0 - draft.left) < 2 and not ends_sentence(
            last.text
        )  # an item that is indented like a first line
        return (abs(line.x0 - draft.mark_x) < 2 or back) and not forced
    if not centred and not flush_right:
        if _hangs_after_number(draft, line, facts):
            return not forced
        if line.x0 > last.x0 + INDENT * size:
            return (
                len(draft.lines) == 1
                and not forced
                and after is not None
                and abs(after.x0 - line.x0) < 1.0
                and (not ends_sentence(last.text) or runs_on_unbroken(last, line))
            )
        if line.x0 < last.x0 - INDENT * size and len(draft.lines) > 1:
            return False
    if not forced or _goes_on_in_small_letters(draft, line):
        return True
    # A forced break: lines that stay lines (addresses, verse, centred titles), or the end of a paragraph.
    short_all = all(_is_short(other, draft) for other in draft.lines)
    same_start = centred or flush_right or (abs(line.x0 - last.x0) < 1.5 and not begins)
    return short_all and _is_short(line, draft) and same_start and not _starts_alone(draft, line, after)


def _usual_distance(draft: Draft, facts: Facts) -> float:
    """The distance of the draft's own lines, or what is usual for the size."""
    lines = draft.lines
    if len(lines) > 1:
        return (
            lines[-1].baseline - lines[-2].baseline
            if lines[-1].page == lines[-2].page
            else facts.leading_of(lines[-1].size)
        )
    return facts.leading_of(lines[0].size)


def _changes_look(above: FlowLine, below: FlowLine) -> bool:
    """Whether one line as a whole is bold, slanted, of another family or colour, and the other line nothing of it."""
    return not (_looks(above) & _looks(below))


def _goes_on_in_small_letters(draft: Draft, line: FlowLine) -> bool:
    """Whether a line in the middle of running text is short by chance: what follows goes on with the sentence."""
    last = draft.lines[-1]
    full = any(not _is_short(above, draft) for above in draft.lines[:-1])
    return full and line.text[:1].islower() and last.text[-1:].isalpha() and abs(line.x0 - last.x0) < 1.0


def _hangs_after_number(draft: Draft, line: FlowLine, facts: Facts) -> bool:
    """Whether a line of a heading stands under the text of the first one, behind its number."""
    first = draft.lines[0]
    if len(first.words) < 2 or first.size < LARGER * facts.text_type.size or not LABEL.match(first.words[0].text):
        return False
    return abs(line.x0 - first.words[1].box.x0) < INDENT * first.size


def _runs_into_code(draft: Draft, line: FlowLine) -> bool:
    """Whether a sentence that fills its line ends with a name in a fixed width, which has come to stand alone in the next one."""
    last = draft.lines[-1]
    return (
        all(word.type.family is Family.MONO for word in line.words)
        and not ends_sentence(last.text)
        and abs(line.x0 - last.x0) < 1.0
        and not _is_forced(draft, line)
    )


def _looks(line: FlowLine) -> set[tuple[bool, bool, Family, str | None]]:
    types = {word.type for word in line.words if not word.marks & SHIFTED} or {line.words[0].type}
    return {_look(one) for one in types}


def _look(type_: Type) -> tuple[bool, bool, Family, str | None]:
    return type_.bold, type_.italic and type_.bold, type_.family, type_.color


def _is_forced(draft: Draft, line: FlowLine) -> bool:
    """Whether the next line's first word would have fitted at the end of the draft's last line."""
    last = draft.lines[-1]
    # A centred or right-aligned line has its room at the other side too.
    moved = _are_centred((last, line), draft) or _is_flush_right(last, draft)
    x1 = draft.left + (last.x1 - last.x0) if moved else last.x1
    return x1 + (SPACE + FITS) * last.size + line_start_width(line) < draft.right


def line_start_width(line: FlowLine) -> float:
    """Width of what stands before the first space of a line, seen with the text upright."""
    upright = abs((line.x1 - line.x0) - line.box.width) < abs((line.x1 - line.x0) - line.box.height) + 0.01
    end = line.words[0]
    for word in line.words[1:]:
        if word.before:
            break
        end = word
    if upright:
        return end.box.x1 - line.words[0].box.x0
    return abs(end.box.y1 - line.words[0].box.y0)


def _starts_alone(draft: Draft, line: FlowLine, after: FlowLine | None) -> bool:
    """Whether the draft's last line announces what follows, or is a salutation: after a comma, where no more short lines follow, as
    they do in verse and addresses."""
    last = draft.lines[-1].text
    if not last.endswith(","):
        return last.endswith(":")
    distance = line.baseline - draft.lines[-1].baseline
    more = (
        after is not None
        and _is_short(after, draft)
        and abs(after.x0 - line.x0) < 1.5
        and abs(after.baseline - line.baseline - distance) < LOOSER * line.size
    )
    return len(draft.lines) == 1 and not more


def _is_short(line: FlowLine, draft: Draft) -> bool:
    return line.x1 - line.x0 < SHORT * (draft.right - draft.left)


def _are_centred(lines: Sequence[FlowLine], draft: Draft) -> bool:
    """Whether all lines leave as much room at the left as at the right, and one of them more than a little."""
    rooms = [(line.x0 - draft.left, draft.right - line.x1) for line in lines]
    slack = max(0.03 * (draft.right - draft.left), 2.0)
    size = lines[0].size
    return (
        all(left > 0.3 * size and abs(left - right) < slack for left, right in rooms)
        and max(left for left, _ in rooms) > size
    )


def _is_flush_right(line: FlowLine, draft: Draft) -> bool:
    width = draft.right - draft.left
    return draft.right - line.x1 < 3.0 and line.x0 - draft.left > 0.2 * width


def _alignment(draft: Draft) -> Align:
    lines = draft.lines
    if any(line.tabbed for line in lines):
        return Align.LEFT
    if _are_centred(lines, draft):
        return Align.CENTER
    if all(_is_flush_right(line, draft) for line in lines):
        return Align.RIGHT
    full = lines[:-1]
    if full and not draft.verse and all(draft.right - line.x1 < FLUSH * line.size for line in full):
        return Align.JUSTIFY
    return Align.LEFT


def _append(drafts: list[AnyDraft], fresh: list[AnyDraft], facts: Facts) -> None:
    """Adds a column's drafts, joining its first paragraph to the last one before where that was cut."""
    # What may stand between the halves of a cut paragraph: pictures with their captions, and notes.
    behind = next(
        (d for d in reversed(drafts) if isinstance(d, Draft) and d.role is not Role.NOTE),
        None,
    )
    ahead = next((i for i, d in enumerate(fresh) if isinstance(d, Draft) and not _is_caption(d)), None)
    if behind is not None and ahead is not None:
        following = fresh[ahead]
        assert isinstance(following, Draft)
        if _is_cut(behind, following, facts):
            behind.lines.extend(following.lines)
            if behind.align is Align.LEFT and following.align is Align.JUSTIFY:
                behind.align = Align.JUSTIFY
            fresh = fresh[:ahead] + fresh[ahead + 1 :]
    drafts.extend(fresh)


def _is_caption(draft: Draft) -> bool:
    return is_caption(draft.lines[0].text)


def _is_cut(behind: Draft, following: Draft, facts: Facts) -> bool:
    """Whether ``following``, at the top of the next column or page, carries on ``behind``."""
    last, first = behind.lines[-1], following.lines[0]
    if Role.CONTENTS in (behind.role, following.role):
        return False
    if Role.CODE in (behind.role, following.role):
        return behind.role is following.role and abs(last.size - first.size) < SIZE_CHANGE * last.size
    if behind.verse or last.tabbed or first.tabbed or following.marker:
        return False
    if abs(last.size - first.size) > SIZE_CHANGE * last.size or _changes_look(last, first):
        return False
    if behind.align in (Align.CENTER, Align.RIGHT) or following.align in (Align.CENTER, Align.RIGHT):
        return False
    if ends_broken(last.text):
        return True
    if _is_forced(behind, first):
        return False
    indented = first.x0 > following.left + INDENT * first.size
    if behind.marker:
        return not ends_sentence(last.text) and indented
    if not ends_sentence(last.text):
        return not indented or first.text[:1].islower()
    # A full line that ends a sentence is more often one within a paragraph than the last of one that came out full.
    return not indented and len(behind.lines) > 1 and behind.columns == following.columns
