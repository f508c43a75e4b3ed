"""Doubts about how rows look: they were set, and laid over their source."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from functools import cached_property

from msgspec.structs import replace

from evenquill.core.edits import AlignBlock, EditText, SetKind
from evenquill.core.edits.operations import Operation
from evenquill.core.looking_back.looks import ASKED, LookDoubt, LookKind
from evenquill.core.model import Align, Block, Document, Marks, Role, Spot, TextBlock, WordSpot, texts_of
from evenquill.core.model.geometry import union
from evenquill.core.model.inline import cut, joined
from evenquill.core.queries.query import Fix, Kind, Query
from evenquill.core.queries.shortened import beginning_of
from evenquill.core.queries.view import View

LOOKS = Kind("looks", "row that looks otherwise than its source", "rows that look otherwise than their source", 41)
KINDS = (LOOKS,)

REASONS = {
    LookKind.BOLDER: "it is bolder in the source",
    LookKind.LIGHTER: "it is bold here, and not in the source",
    LookKind.MARK: "the source has a mark before it, as items of lists have",
    LookKind.NO_MARK: "the source has no mark before it",
    LookKind.PLACE: "in the source it stands elsewhere in its line",
    LookKind.SIGN: "the source has a sign there that is not in the text",
    LookKind.MISSING: "the source has something there that is in no row",
}
SIDES = {Align.LEFT: "set it at the left", Align.CENTER: "set it in the middle", Align.RIGHT: "set it at the right"}


def find(view: View) -> Iterator[Query]:
    if not view.look_doubts:
        return
    on_page = _OnPages(view.document)
    for block in view.blocks:
        if block.excluded:
            continue
        for text in texts_of(block):
            for doubt in view.look_doubts.get(text.id, ()):
                if doubt.likelihood >= ASKED:
                    yield from _queries(view.document, on_page, block, text, doubt)


class _OnPages:
    """The rows that come from a page of the source; found once, when the first is asked for."""

    def __init__(self, document: Document) -> None:
        self._document = document

    @cached_property
    def _rows(self) -> dict[int, list[Block]]:
        rows: dict[int, list[Block]] = defaultdict(list)
        for block in self._document.blocks:
            for page in {spot.page for spot in block.spots}:
                rows[page].append(block)
        return rows

    def covers(self, doubt: LookDoubt) -> bool:
        """Whether a row has come from the place of a doubt meanwhile."""
        for block in self._rows[doubt.page]:
            for text in texts_of(block):
                if any(word.page == doubt.page and word.box.holds_middle(doubt.box) for word in text.words):
                    return True
            if not isinstance(block, TextBlock) and any(
                spot.page == doubt.page and spot.box.holds_middle(doubt.box) for spot in block.spots
            ):
                return True
        return False


def _queries(document: Document, on_page: _OnPages, row: Block, text: TextBlock, doubt: LookDoubt) -> Iterator[Query]:
    """The query on a difference, as long as the row is as it was when that was seen."""
    query = Query(
        kind=LOOKS.name,
        page=doubt.page,
        text=f"{doubt.kind}",
        likelihood=doubt.likelihood,
        reason=REASONS[doubt.kind],
        block=text.id,
        spots=(Spot(doubt.page, doubt.box),),
        context=beginning_of(text.text),
        keep="it is right",
    )
    match doubt.kind:
        case LookKind.BOLDER | LookKind.LIGHTER:
            yield from _of_weight(document, text, doubt, query)
        case LookKind.MARK if text.role is not Role.LIST_ITEM:
            yield _with(query, "make it a list item", SetKind(text.id, Role.LIST_ITEM))
        case LookKind.NO_MARK if text.role is Role.LIST_ITEM:
            yield _with(query, "make it a paragraph", SetKind(text.id, Role.PARAGRAPH))
        case LookKind.PLACE:
            now = text.align or document.style(text.style).align
            if doubt.align is None:
                yield query
            elif row is text and doubt.align is not now:
                yield _with(query, SIDES[doubt.align], AlignBlock(text.id, doubt.align))
        case LookKind.SIGN | LookKind.MISSING if not on_page.covers(doubt):
            yield query


def _with(query: Query, label: str, operation: Operation) -> Query:
    return replace(query, fixes=(Fix(label, operation),))


def _of_weight(document: Document, text: TextBlock, doubt: LookDoubt, query: Query) -> Iterator[Query]:
    ends = [word for word in text.words if doubt.ends and word.page == doubt.page and word.box in doubt.ends]
    if not ends:
        return
    start, end = ends[0].start, ends[-1].end
    bold = document.style(text.style).bold
    wanted = doubt.kind is LookKind.BOLDER
    within = cut(text.content, start, end)
    if all(((Marks.BOLD in item.marks) != bold) is wanted for item in within if item.text.strip()):
        return
    turned = (
        replace(item, marks=item.marks ^ Marks.BOLD) if ((Marks.BOLD in item.marks) != bold) is not wanted else item
        for item in within
    )
    content = joined((*cut(text.content, 0, start), *turned, *cut(text.content, end)))
    spots = _line_by_line(word for word in text.words if start <= word.start < end)
    said = replace(query, text=text.text[start:end], start=start, end=end, spots=spots)
    yield _with(said, "make it bold" if wanted else "make it regular", EditText(text.id, content))


def _line_by_line(words: Iterable[WordSpot]) -> tuple[Spot, ...]:
    """The places of words, one for each line."""
    spots: list[Spot] = []
    for word in words:
        last = spots[-1] if spots else None
        if (
            last is not None
            and last.page == word.page
            and last.box.overlap_y(word.box) > 0
            and word.box.x0 >= last.box.x0
        ):
            spots[-1] = Spot(word.page, union((last.box, word.box)))
        else:
            spots.append(Spot(word.page, word.box))
    return tuple(spots)
