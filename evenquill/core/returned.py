"""A document that was delivered, edited elsewhere and brought back: what was changed in it, and what takes that over.

What was delivered is compared with what came back, both as they are read from their files, so that nothing counts as changed that a file
does not keep. Each change is then laid at the row of the document that it is about.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from difflib import SequenceMatcher
from enum import StrEnum
from typing import NamedTuple

import msgspec
from msgspec.structs import replace
from rapidfuzz.fuzz import ratio

from evenquill.core.edits import AlignBlock, DescribePicture, EditText, Exclude, PutRows, SetAround, SetKind, Together
from evenquill.core.model import (
    NOTES,
    Block,
    BlockLink,
    Document,
    Inline,
    NoteRef,
    PictureBlock,
    TableBlock,
    TextBlock,
)

ALIKE = 55.0
"""Percent of likeness from which a row that is not the same as before is taken for one that was rewritten, not for another one."""

LONGEST = 4000
"""Characters of what a change was and is that are shown."""

OF_A_TABLE, OF_A_PICTURE = "\ue000table", "\ue000picture"


class ChangeKind(StrEnum):
    WORDS = "words"
    KIND = "kind"
    ALIGNMENT = "alignment"
    ADDED = "added"
    REMOVED = "removed"
    TABLE = "table"
    DESCRIPTION = "description"
    NOT_TAKEN = "not taken"


class ReturnedChange(msgspec.Struct, frozen=True):
    """A change that was made elsewhere: at which row of the document (``place``, ``row``), what it was before and is after; ``also_here``
    if that row was changed here too since it was delivered. ``operation`` takes it over, None where that has to be done by hand."""

    kind: ChangeKind
    place: int
    row: str
    before: str
    after: str
    also_here: bool
    operation: Together | None


class _Pair(NamedTuple):
    """A row as it was and as it is; one of them is None for a row that was removed or added."""

    before: Block | None
    after: Block | None


def changes_of(document: Document, delivered: Document, returned: Document) -> tuple[ReturnedChange, ...]:
    """What was changed between ``delivered`` and ``returned``, for the ``document`` as it is now, in the order of its rows."""
    written = [block for block in document.blocks if not block.excluded]
    own = {pair.before.id: pair.after for pair in _paired(delivered.blocks, written) if pair.before and pair.after}
    pairs = _paired(delivered.blocks, returned.blocks)
    ids_here = {
        pair.after.id: own[pair.before.id].id for pair in pairs if pair.before and pair.after and pair.before.id in own
    }
    changes: list[ReturnedChange] = []
    at: Block | None = None
    added: list[Block] = []
    finder = _Finder(document, delivered, returned, ids_here)
    for pair in pairs:
        here = own.get(pair.before.id) if pair.before else None
        if pair.before is None:
            if pair.after is not None:
                added.append(pair.after)
            continue
        changes += finder.added(at, added)
        added = []
        if here is None:
            continue  # it was set aside or taken out here meanwhile
        at = here
        changes += (
            finder.removed(pair.before, here) if pair.after is None else finder.between(pair.before, pair.after, here)
        )
    changes += finder.added(at, added)
    return tuple(sorted(changes, key=lambda change: change.place))


class _Finder:
    """Finds what was changed of single rows."""

    def __init__(self, document: Document, delivered: Document, returned: Document, ids_here: dict[str, str]) -> None:
        self._document = document
        self._delivered = delivered
        self._returned = returned
        self._ids_here = ids_here
        """By the ids of rows that came back those of the rows here."""

    def removed(self, before: Block, here: Block) -> list[ReturnedChange]:
        return [
            self._change(
                ChangeKind.REMOVED, here, _said(before), "", _said(before) != _said(here), Exclude(here.id, True)
            )
        ]

    def added(self, after: Block | None, rows: Sequence[Block]) -> list[ReturnedChange]:
        out = []
        for run, takeable in _runs(
            rows, lambda block: isinstance(block, TextBlock | TableBlock) and not _is_note(block)
        ):
            said = "\n".join(_said(block) for block in run)
            operation = None
            if takeable:
                blocks = tuple(self._linked(block) for block in run if isinstance(block, TextBlock | TableBlock))
                used = {text.style for block in blocks for text in _texts(block)}
                styles = tuple(look for name, look in self._returned.resolved_styles.items() if name in used)
                operation = PutRows(after.id if after else None, blocks, styles)
            kind = ChangeKind.ADDED if takeable else ChangeKind.NOT_TAKEN
            out.append(self._change(kind, after, "", said, False, *([operation] if operation else [])))
        return out

    def between(self, before: Block, after: Block, here: Block) -> list[ReturnedChange]:
        """The changes of a row that is there before and after."""
        if isinstance(before, TextBlock) and isinstance(after, TextBlock) and isinstance(here, TextBlock):
            return self._of_text(before, after, here)
        if isinstance(before, TableBlock) and isinstance(after, TableBlock) and isinstance(here, TableBlock):
            return self._of_table(before, after, here)
        if isinstance(before, PictureBlock) and isinstance(after, PictureBlock) and isinstance(here, PictureBlock):
            out = []
            if before.alt != after.alt:
                same = before.alt == here.alt
                out.append(
                    self._change(
                        ChangeKind.DESCRIPTION,
                        here,
                        before.alt,
                        after.alt,
                        not same,
                        DescribePicture(here.id, after.alt),
                    )
                )
            if before.around is not after.around:
                out.append(
                    self._change(
                        ChangeKind.ALIGNMENT,
                        here,
                        _said_of_around(before),
                        _said_of_around(after),
                        False,
                        SetAround(here.id, after.around),
                    )
                )
            if before.align is not after.align:
                out.append(
                    self._change(
                        ChangeKind.ALIGNMENT, here, before.align, after.align, False, AlignBlock(here.id, after.align)
                    )
                )
            return out
        return []

    def _of_text(
        self, before: TextBlock, after: TextBlock, here: TextBlock, row: Block | None = None
    ) -> list[ReturnedChange]:
        out = []
        also = before.text != here.text
        if _bare(before.content) != _bare(after.content):
            step = EditText(here.id, self._content(after))
            out.append(self._change(ChangeKind.WORDS, row or here, before.readable, after.readable, also, step))
        ordered = after.numbering is not None and after.numbering.ordered
        if (before.role, before.level, _ordered(before)) != (after.role, after.level, _ordered(after)) and row is None:
            step_kind = SetKind(here.id, after.role, after.level, ordered)
            out.append(
                self._change(
                    ChangeKind.KIND, here, _kind(before), _kind(after), here.role is not before.role, step_kind
                )
            )
        was = before.align or self._delivered.style(before.style).align
        now = after.align or self._returned.style(after.style).align
        if was is not now:
            out.append(self._change(ChangeKind.ALIGNMENT, row or here, was, now, False, AlignBlock(here.id, now)))
        return out

    def _of_table(self, before: TableBlock, after: TableBlock, here: TableBlock) -> list[ReturnedChange]:
        """Changed cells one by one where the grid is the same; otherwise the table as a whole, the old one set aside."""
        if _shape(before) == _shape(after) == _shape(here):
            out = []
            for one, other, own in zip(before.cells, after.cells, here.cells, strict=True):
                if len(one.texts) == len(other.texts) == len(own.texts):
                    for text, changed, mine in zip(one.texts, other.texts, own.texts, strict=True):
                        out += self._of_text(text, changed, mine, here)
                elif one.text != other.text:
                    out.append(self._whole_table(before, after, here))
                    return out
            return out
        return [self._whole_table(before, after, here)] if _shape(before) != _shape(after) else []

    def _whole_table(self, before: TableBlock, after: TableBlock, here: TableBlock) -> ReturnedChange:
        used = {text.style for text in after.texts}
        styles = tuple(look for name, look in self._returned.resolved_styles.items() if name in used)
        steps = (PutRows(here.id, (after,), styles), Exclude(here.id, True))
        return self._change(ChangeKind.TABLE, here, _said(before), _said(after), _said(before) != _said(here), *steps)

    def _change(
        self,
        kind: ChangeKind,
        row: Block | None,
        before: str,
        after: str,
        also_here: bool,
        *steps: EditText | SetKind | AlignBlock | Exclude | PutRows | DescribePicture | SetAround,
    ) -> ReturnedChange:
        place = self._document.index(row.id) if row else 0
        operation = Together(steps) if steps else None
        return ReturnedChange(
            kind, place, row.id if row else "", _shortened(before), _shortened(after), also_here, operation
        )

    def _content(self, text: TextBlock) -> tuple[Inline, ...]:
        """The content with notes and links as they are named here."""
        return tuple(one for item in text.content for one in self._named(item))

    def _named(self, item: Inline) -> Iterable[Inline]:
        if isinstance(item, NoteRef):
            known = self._ids_here.get(item.note)
            return (replace(item, note=known),) if known else ()
        if isinstance(item.link, BlockLink):
            known = self._ids_here.get(item.link.block)
            return (replace(item, link=BlockLink(known) if known else None),)
        return (item,)

    def _linked(self, block: TextBlock | TableBlock) -> TextBlock | TableBlock:
        return replace(block, content=self._content(block)) if isinstance(block, TextBlock) else block


def _paired(before: Sequence[Block], after: Sequence[Block]) -> list[_Pair]:
    """Rows as they were with what they are, notes behind all others, since their place among these tells nothing."""
    rows, notes = (
        _in_order(*([block for block in side if _is_note(block) is wanted] for side in (before, after)))
        for wanted in (False, True)
    )
    return [*rows, *notes]


def _in_order(before: Sequence[Block], after: Sequence[Block]) -> list[_Pair]:
    """Pairs of the same rows first, then of those between them by how like they are."""
    keys, other_keys = [_key(block) for block in before], [_key(block) for block in after]
    out: list[_Pair] = []
    for tag, i0, i1, j0, j1 in SequenceMatcher(None, keys, other_keys, autojunk=False).get_opcodes():
        if tag == "equal":
            out += [_Pair(one, other) for one, other in zip(before[i0:i1], after[j0:j1], strict=True)]
        else:
            out += _by_likeness(before[i0:i1], after[j0:j1])
    return out


def _by_likeness(before: Sequence[Block], after: Sequence[Block]) -> list[_Pair]:
    """Rows of two stretches in one order: the pairing with the most likeness in all (a longest common subsequence with weights)."""
    if len(before) * len(after) > 250_000:
        return [*(_Pair(one, None) for one in before), *(_Pair(None, one) for one in after)]
    best = [[0.0] * (len(after) + 1) for _ in range(len(before) + 1)]
    likeness = [[_likeness(one, other) for other in after] for one in before]
    for i in range(len(before) - 1, -1, -1):
        for j in range(len(after) - 1, -1, -1):
            paired = likeness[i][j] + best[i + 1][j + 1] if likeness[i][j] else 0.0
            best[i][j] = max(paired, best[i + 1][j], best[i][j + 1])
    out: list[_Pair] = []
    i = j = 0
    while i < len(before) or j < len(after):
        if i < len(before) and j < len(after) and likeness[i][j] and best[i][j] == likeness[i][j] + best[i + 1][j + 1]:
            out.append(_Pair(before[i], after[j]))
            i, j = i + 1, j + 1
        elif i < len(before) and (j == len(after) or best[i][j] == best[i + 1][j]):
            out.append(_Pair(before[i], None))
            i += 1
        else:
            out.append(_Pair(None, after[j]))
            j += 1
    return out


def _likeness(one: Block, other: Block) -> float:
    """How like two rows are, 0 for those that cannot be one."""
    if type(one) is not type(other) or _is_note(one) is not _is_note(other):
        return 0.0
    if isinstance(one, PictureBlock):
        return 60.0
    said, other_said = _said(one), _said(other)
    shared = ratio(said[:2000], other_said[:2000])
    floor = ALIKE / 2 if isinstance(one, TableBlock) else ALIKE
    return float(shared) if shared >= floor else 0.0


def _said_of_around(block: PictureBlock) -> str:
    return "text around" if block.around else "text above and below"


def _key(block: Block) -> str:
    if isinstance(block, PictureBlock):
        return f"{OF_A_PICTURE} {block.picture}"
    if isinstance(block, TableBlock):
        return f"{OF_A_TABLE} {_said(block)}"
    return f"{_is_note(block)} {block.text}"


def _said(block: Block) -> str:
    if isinstance(block, TextBlock):
        return block.readable
    if isinstance(block, TableBlock):
        return "\n".join(
            "\t".join(cell.text for cell in block.cells if cell.row == row) for row in range(block.row_count)
        )
    return block.alt or "a picture"


def _texts(block: TextBlock | TableBlock) -> Iterable[TextBlock]:
    return block.texts if isinstance(block, TableBlock) else (block,)


def _is_note(block: Block) -> bool:
    return isinstance(block, TextBlock) and block.role in NOTES


def _bare(content: tuple[Inline, ...]) -> tuple[object, ...]:
    """Content without the names of what it leads to, which differ from file to file."""
    return tuple(
        replace(item, note="", link=None) if isinstance(item, NoteRef)
        else replace(item, link=None) if isinstance(item.link, BlockLink) else item
        for item in content
    )  # fmt: skip


def _ordered(block: TextBlock) -> bool | None:
    return block.numbering.ordered if block.numbering else None


def _kind(block: TextBlock) -> str:
    name = block.role.replace("_", " ")
    return f"{name}, level {block.level}" if block.level else name


def _shape(table: TableBlock) -> tuple[object, ...]:
    return (len(table.widths), table.row_count, tuple((c.row, c.column, c.rows, c.columns) for c in table.cells))


def _shortened(said: str) -> str:
    return said if len(said) <= LONGEST else f"{said[: LONGEST - 1]}…"


def _runs(rows: Sequence[Block], test: Callable[[Block], bool]) -> Iterable[tuple[list[Block], bool]]:
    """Neighbours for which a test gives the same, with what it gives."""
    out: list[tuple[list[Block], bool]] = []
    for row in rows:
        if out and out[-1][1] is test(row):
            out[-1][0].append(row)
        else:
            out.append(([row], test(row)))
    return out
