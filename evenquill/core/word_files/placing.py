"""Rows of a word-processor file and their words on the pages that were set of it."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from difflib import SequenceMatcher
from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import short_code
from evenquill.core.model import (
    Align,
    Block,
    Box,
    Document,
    PictureBlock,
    Role,
    Section,
    Spot,
    TableBlock,
    TextBlock,
    WordSpot,
)
from evenquill.core.model.geometry import spots_by_page, union
from evenquill.core.model.inline import OBJECT
from evenquill.core.model.sections import PageGeometry
from evenquill.core.outcome.setting import Outcome, RowPlaces
from evenquill.core.pictures import PictureFolder
from evenquill.core.word_files.opening import read_word_file
from evenquill.core.word_files.set_copy import places_in

SLACK = 2.0
"""Points by which letters reach over the edges of their line, as marks tell these."""

WINDOW = 600
"""Words of a table among which those of a cell are looked for: more than stand in a row and before the next one."""

MARK_ROOM = 1.6
"""Ems before the text of an item that its mark takes."""

ALIKE = 0.05
"""Share by which the proportions of a picture on a page may differ from those that it was given."""

_WORD = re.compile(rf"[^\s{OBJECT}]+")


class _Word(NamedTuple):
    """A word on a page."""

    text: str
    page: int
    box: Box


def placed_document(path: Path, copy: Path, pages: Sequence[PageEvidence], pictures: PictureFolder) -> Document:
    """The document that the word-processor file at ``path`` holds, each row and word with its place on the ``pages`` that were set of it,
    as they were read from ``copy``. Raises SourceError."""
    document = read_word_file(path, pictures)
    return with_places(document, places_in(copy), pages)


def with_places(document: Document, outcome: Outcome, pages: Sequence[PageEvidence]) -> Document:
    """The document with the places of its rows on its pages, which count from 1."""
    finder = _Finder(document, pages)
    rows = {row.row: row for row in _with_whole_tables(document, outcome)}
    # What no mark tells of, as of notes, is looked for last: in what is left.
    marked = {block.id: finder.placed(block, rows[block.id]) for block in document.blocks if block.id in rows}
    blocks = tuple(
        marked[block.id] if block.id in marked else finder.placed_near(block, _near(document, n, marked))
        for n, block in enumerate(document.blocks)
    )
    return replace(document, blocks=blocks, pages=tuple(map(_geometry, pages)))


def _with_whole_tables(document: Document, outcome: Outcome) -> Iterator[RowPlaces]:
    """The places of rows; tables go on to the next row, since their last cell may end above others of its row."""
    tables = {block.id for block in document.blocks if isinstance(block, TableBlock)}
    for row, below in itertools.zip_longest(outcome.rows, outcome.rows[1:]):
        if row.row in tables:
            same = below is not None and below.start.page == row.end.page and below.start.y > row.end.y
            bottom = below.start.y if same else outcome.pages[row.end.page - 1].height
            yield replace(row, end=replace(row.end, y=bottom))
        else:
            yield row


def _near(document: Document, place: int, marked: Mapping[str, Block]) -> int:
    """The page on which the row before one ends."""
    before = (marked[block.id] for block in reversed(document.blocks[:place]) if block.id in marked)
    return next((block.spots[-1].page for block in before if block.spots), 1)


def _geometry(page: PageEvidence) -> PageGeometry:
    whole = Box(0.0, 0.0, page.width, page.height)
    text = union(line.box for line in page.lines) if page.lines else whole
    return PageGeometry(page.width, page.height, text.rounded(), tuple(map(short_code, page.languages)))


def _words(page: PageEvidence) -> Iterator[_Word]:
    """The words of a page in the order of its lines."""
    for line in page.lines:
        at: list[tuple[str, float, float]] = []
        for word in line.words:
            if word.glued and at:
                text, x0, _ = at[-1]
                at[-1] = (text + word.text, x0, word.x1)
            else:
                at.append((word.text, word.x0, word.x1))
        for text, x0, x1 in at:
            yield _Word(text, page.number, Box(x0, line.box.y0, x1, line.box.y1))


class _Finder:
    """Finds the words of rows, in their order, among those of the pages."""

    def __init__(self, document: Document, pages: Sequence[PageEvidence]) -> None:
        self._sections = {section.id: section for section in document.sections}
        self._styles = document.resolved_styles
        self._pages = {page.number: page for page in pages}
        self._words = {page.number: list(_words(page)) for page in pages}
        self._used: set[tuple[int, int]] = set()
        """Pictures that a row was found for: page, place among its pictures."""
        self._taken: set[tuple[int, Box]] = set()
        """Where words stand that a row was found for."""

    def placed(self, block: Block, row: RowPlaces) -> Block:
        """The block with its place; ``row`` is what the marks say of it."""
        regions = self._regions(block, row)
        if isinstance(block, PictureBlock):
            return replace(block, spots=self._of_picture(block, regions))
        pool = self._within(regions, self._sections.get(block.section, Section("")))
        if isinstance(block, TableBlock):
            return self._of_table(block, regions, pool)
        found = self._of_text(block, pool)
        return found if found.spots else replace(found, spots=regions)

    def placed_near(self, block: Block, page: int) -> Block:
        """The block with its place among the words of a page, or of the next one, that no other row has taken."""
        if not isinstance(block, TextBlock):
            return block
        near = [
            word
            for number in (page, page + 1)
            for word in self._words.get(number, ())
            if (word.page, word.box.rounded()) not in self._taken
        ]
        return self._of_text(block, near)

    def _regions(self, block: Block, row: RowPlaces) -> tuple[Spot, ...]:
        """Where a row may stand: for each page what is between its start and its end, within its column where it is in one of several."""
        section = self._sections.get(block.section, Section(""))
        room, columns = section.setup.text_width, section.columns
        left, width = section.setup.left, room / columns
        column = min(max(int((row.start.x - left) / width), 0), columns - 1)
        in_one = row.start.page == row.end.page and row.end.y >= row.start.y
        if columns > 1 and not in_one:
            return tuple(self._whole(page) for page in range(row.start.page, row.end.page + 1) if page in self._pages)
        out = []
        for page in range(row.start.page, row.end.page + 1):
            if page in self._pages:
                top = row.start.y if page == row.start.page else 0.0
                bottom = row.end.y if page == row.end.page else self._pages[page].height
                x0, x1 = 0.0, self._pages[page].width
                if columns > 1:
                    x0, x1 = left + column * width, left + (column + 1) * width
                out.append(Spot(page, Box(x0, top, x1, max(bottom, top + 1.0))))
        return tuple(out)

    def _whole(self, page: int) -> Spot:
        return Spot(page, Box(0.0, 0.0, self._pages[page].width, self._pages[page].height))

    def _within(self, regions: Iterable[Spot], section: Section) -> list[_Word]:
        """The words at places, column by column."""
        left, width = section.setup.left, section.setup.text_width / section.columns
        return [
            word
            for page, box in regions
            for word in sorted(self._words[page], key=lambda word: max(int((word.box.center_x - left) / width), 0))
            if box.y0 - SLACK <= word.box.center_y <= box.y1 + SLACK and box.x0 <= word.box.center_x <= box.x1
        ]

    def _of_text(self, block: TextBlock, pool: Sequence[_Word]) -> TextBlock:
        own = list(_WORD.finditer(block.text))
        matcher = SequenceMatcher(None, [word[0] for word in own], [word.text for word in pool], autojunk=False)
        spots = [
            WordSpot(own[i + n].start(), own[i + n].end(), pool[j + n].page, pool[j + n].box.rounded())
            for i, j, size in matcher.get_matching_blocks()
            for n in range(size)
        ]
        boxes = [Spot(spot.page, spot.box) for spot in spots]
        self._taken.update((spot.page, spot.box) for spot in spots)
        if boxes and block.role is Role.LIST_ITEM:
            page, box = boxes[0]
            mark = MARK_ROOM * self._styles[block.style].size if block.style in self._styles else 0.0
            boxes.append(Spot(page, box._replace(x0=max(box.x0 - mark, 0.0))))
        return replace(block, words=tuple(spots), spots=spots_by_page(boxes))

    def _of_table(self, table: TableBlock, regions: tuple[Spot, ...], pool: Sequence[_Word]) -> TableBlock:
        """Each cell has its words among those that stand in its columns, and behind those of the cells above it."""
        section = self._sections.get(table.section, Section(""))
        room = section.setup.text_width / section.columns
        widths = table.widths_within(room)
        free = room - sum(widths)
        start = section.setup.left
        if section.columns > 1 and regions:
            start = regions[0].box.x0
        start += {Align.CENTER: free / 2, Align.RIGHT: free}.get(table.align, 0.0)
        edges = [start, *(start + width for width in itertools.accumulate(widths))]
        behind = [0] * len(widths)
        cells = []
        for cell in table.cells:
            x0, x1 = edges[cell.column], edges[cell.column + cell.columns]
            first = max(behind[cell.column : cell.column + cell.columns])
            within = [
                (n, word)
                for n, word in enumerate(pool[first : first + WINDOW], start=first)
                if x0 <= word.box.center_x <= x1
            ]
            texts = []
            for text in cell.texts:
                placed = self._of_text(text, [word for _, word in within])
                texts.append(placed)
                taken = {(word.page, word.box) for word in placed.words}
                last = max((n for n, word in within if (word.page, word.box.rounded()) in taken), default=None)
                if last is not None:
                    within = [one for one in within if one[0] > last]
                    for column in range(cell.column, cell.column + cell.columns):
                        behind[column] = last + 1
            cells.append(replace(cell, texts=tuple(texts)))
        spots = spots_by_page(spot for cell in cells for text in cell.texts for spot in text.spots)
        return replace(table, cells=tuple(cells), spots=spots or regions)

    def _of_picture(self, block: PictureBlock, regions: tuple[Spot, ...]) -> tuple[Spot, ...]:
        """The next picture from where its row begins that is as wide in proportion to its height."""
        for page, _ in regions:
            for n, picture in enumerate(self._pages[page].pictures):
                box = picture.box
                alike = abs(box.width * block.height - box.height * block.width) < ALIKE * box.width * block.height
                if alike and (page, n) not in self._used:
                    self._used.add((page, n))
                    return (Spot(page, box),)
        return regions
