"""What looks otherwise in the result than in the source is seen: bold, marks, columns, sides, signs, pictures; nothing else is."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects
import typst
from msgspec.structs import replace
from PIL import Image

from evenquill.core.convert import source_pages_of
from evenquill.core.edits import apply
from evenquill.core.looking_back import LookKind
from evenquill.core.looking_back.ink import InkedPage
from evenquill.core.looking_back.inked_pages import KEPT, InkedPages
from evenquill.core.looking_back.look_back import look_back
from evenquill.core.looking_back.looks import ASKED, SCALE
from evenquill.core.model import Align, Box, Document, Marks, PictureBlock, Role, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import cut, joined
from evenquill.core.pictures import PictureFolder
from evenquill.core.queries import View, queries_in
from evenquill.core.queries.kinds.looks import LOOKS
from evenquill.core.queries.office import OfficeWords
from evenquill.core.reading.jobs import in_order, page_jobs
from evenquill.core.rebuild_files import SourceFile, rebuild_files
from evenquill.core.strip_types import Strip
from evenquill.core.word_files import examine_file
from tests.conftest import tables

SENTENCE = "The gauge at the north pier was read each hour and the drum wound on Mondays. "
SOURCE = f"""#set text(font: "Liberation Serif", size: 11pt)
= Tides
{SENTENCE * 3}

{SENTENCE} *Tell the office at once* when it stops. {SENTENCE * 2}

{SENTENCE * 3}

#align(right)[Skerrin, 3 March 1971]

- the staff is read
- the clock is wound
- the glass is wiped

{SENTENCE} It rose § fell by a foot. {SENTENCE * 2}

#table(columns: 4, [Gauge], [May], [June], [July], [North pier], [2.31], [2.44], [2.40], [South pier], [1.90], [1.87], [1.84],
  [Ferry slip], [3.10], [3.11], [3.09], [Outer Skerry], [0.70], [0.71], [0.69])

#image("sheet.png", width: 40mm)

{SENTENCE * 3}
"""


class Read:
    """A source as it was read, and its pages."""

    def __init__(self, source, pool, folder) -> None:
        self.pictures = PictureFolder(folder)
        file = SourceFile(source, examine_file(source, copy=folder / "copy.pdf", pictures=folder))
        pages = in_order(pool.read(page_jobs(source_pages_of([file]), folder)))
        self.document: Document = rebuild_files(pages, [file], file.facts, self.pictures)
        self.pages = {
            page.number: Strip(str(self.pictures.path(page.cleaned.picture)), None, 1, None, SCALE, page.width)
            if page.cleaned
            else Strip(str(source), None, page.number, None, SCALE)
            for page in pages
        }  # fmt: skip

    def seen(self, document: Document) -> list[tuple[str, LookKind, Box]]:
        looked = look_back(document, self.pages, self.pictures.get)
        return [
            (name, doubt.kind, doubt.box)
            for name, doubts in looked.doubts.items()
            for doubt in doubts
            if doubt.likelihood >= ASKED
        ]

    def queries(self, document: Document):
        looked = look_back(document, self.pages, self.pictures.get)
        return queries_in(View(document, OfficeWords(), look_doubts=looked.doubts), {LOOKS.name})


@pytest.fixture(scope="module")
def read(typeset_once, pool, tmp_path_factory) -> Read:
    folder = tmp_path_factory.mktemp("looked")
    return Read(typeset_once(SOURCE), pool, folder)


@pytest.fixture(scope="module")
def typeset_once(tmp_path_factory):
    def make(source: str):
        folder = tmp_path_factory.mktemp("set")
        noise = np.random.default_rng(3).integers(0, 255, (60, 100), dtype=np.uint8)
        Image.fromarray(noise).resize((400, 240)).save(folder / "sheet.png")
        (folder / "page.typ").write_text(source)
        (folder / "page.pdf").write_bytes(typst.compile(folder / "page.typ"))
        return folder / "page.pdf"

    return make


def row(document: Document, said: str) -> TextBlock:
    return next(block for block in document.blocks if isinstance(block, TextBlock) and said in block.text)


def with_row(document: Document, changed) -> Document:
    return replace(document, blocks=tuple(changed if block.id == changed.id else block for block in document.blocks))


def turned(text: TextBlock, said: str) -> TextBlock:
    """The row with a stretch of it bold that was not, or the other way round."""
    start = text.text.index(said)
    middle = tuple(replace(item, marks=item.marks ^ Marks.BOLD) for item in cut(text.content, start, start + len(said)))
    content = (*cut(text.content, 0, start), *middle, *cut(text.content, start + len(said)))
    return replace(text, content=joined(content))


def test_a_faithful_result_is_not_asked_about(read):
    assert read.seen(read.document) == []
    looked = look_back(read.document, read.pages, read.pictures.get)
    assert looked.compared == looked.alike > 8


@pytest.mark.parametrize(
    ("said", "kind", "label"),
    [
        ("Tell the office at once", LookKind.BOLDER, "make it bold"),
        ("when it stops.", LookKind.LIGHTER, "make it regular"),
    ],
)
def test_bold_that_was_lost_or_put_on_is_seen_and_put_right(read, said, kind, label):
    own = row(read.document, "Tell the office")
    damaged = with_row(read.document, turned(own, said))
    ((name, found, _),) = read.seen(damaged)
    assert (name, found) == (own.id, kind)
    (query,) = read.queries(damaged)
    assert (query.text, query.fixes[0].label) == (said, label)
    mended = apply(damaged, query.fixes[0].operation, Ids(10_000)).document
    assert row(mended, "Tell the office").content == own.content
    assert read.queries(mended) == []


def test_a_mark_that_is_lost_or_put_on_is_seen(read):
    item = row(read.document, "the clock is wound")
    lost = with_row(read.document, replace(item, role=Role.PARAGRAPH, numbering=None))
    assert {(name, kind) for name, kind, _ in read.seen(lost)} >= {(item.id, LookKind.MARK)}
    own = row(read.document, "It rose")
    number = row(read.document, "the staff is read").numbering
    put_on = with_row(read.document, replace(own, role=Role.LIST_ITEM, numbering=number))
    assert (own.id, LookKind.NO_MARK) in {(name, kind) for name, kind, _ in read.seen(put_on)}


def test_a_row_on_another_side_is_seen_and_put_back(read):
    own = row(read.document, "3 March")
    assert (own.align or read.document.style(own.style).align) is Align.RIGHT
    damaged = with_row(read.document, replace(own, align=Align.LEFT))
    ((name, kind, _),) = read.seen(damaged)
    assert (name, kind) == (own.id, LookKind.PLACE)
    (query,) = read.queries(damaged)
    assert query.fixes[0].label == "set it at the right"
    mended = apply(damaged, query.fixes[0].operation, Ids(10_000)).document
    assert row(mended, "3 March").align is Align.RIGHT


def test_columns_that_changed_places_are_seen(read):
    (table,) = tables(read.document)
    by_place = {(cell.row, cell.column): cell.texts for cell in table.cells}
    places = {0: 3, 3: 0}
    cells = tuple(replace(cell, texts=by_place[cell.row, places.get(cell.column, cell.column)]) for cell in table.cells)
    found = read.seen(with_row(read.document, replace(table, cells=cells)))
    assert {kind for _, kind, _ in found} == {LookKind.PLACE}
    assert len(found) == 2


def test_a_sign_and_a_picture_that_are_lost_are_seen_and_covered_again(read):
    own = row(read.document, "It rose")
    at = own.text.index("§ ")
    words = tuple(
        word._replace(start=word.start - 2 * (word.start > at), end=word.end - 2 * (word.start > at))
        for word in own.words
        if word.start != at
    )
    content = joined((*cut(own.content, 0, at), *cut(own.content, at + 2)))
    lost = with_row(read.document, replace(own, content=content, words=words))
    assert [(name, kind) for name, kind, _ in read.seen(lost)] == [(own.id, LookKind.SIGN)]

    (picture,) = [block for block in read.document.blocks if isinstance(block, PictureBlock)]
    without = replace(read.document, blocks=tuple(block for block in read.document.blocks if block is not picture))
    ((_, kind, box),) = read.seen(without)
    assert kind is LookKind.MISSING
    assert box.holds(picture.spots[0].box, 8)
    assert picture.spots[0].box.holds(box, 8)
    (query,) = read.queries(without)
    looked = look_back(without, read.pages, read.pictures.get)
    assert queries_in(View(read.document, OfficeWords(), look_doubts=looked.doubts), {LOOKS.name}) == []
    assert "in no row" in query.reason


def test_scans_do_not_tell_how_heavy_letters_are(typeset_once, pool, tmp_path):
    chance = np.random.default_rng(5)
    page = scan_effects.drawn(typeset_once(SOURCE).read_bytes(), 1, 200)
    scan = scan_effects.scanned(scan_effects.printed(page, chance), chance, specks=60)
    path = tmp_path / "scan.pdf"
    path.write_bytes(scan_effects.as_pdf([scan], 200))
    own = Read(path, pool, tmp_path / "pictures")
    kinds = {kind for _, kind, _ in own.seen(own.document)}
    assert not kinds & {LookKind.BOLDER, LookKind.LIGHTER}
    item = row(own.document, "the clock is wound")
    lost = with_row(own.document, replace(item, role=Role.PARAGRAPH, numbering=None))
    assert (item.id, LookKind.MARK) in {(name, kind) for name, kind, _ in own.seen(lost)}


def test_what_is_printed_across_the_text_and_set_aside_makes_no_word_bolder(typeset_once, pool, tmp_path):
    mark = '#place(center + horizon, rotate(-35deg, text(90pt, weight: "bold", fill: luma(150))[Copied]))'
    paragraphs = "\n\n".join([SENTENCE * 4] * 9)
    source = f'#set page(background: [{mark}])\n#set text(font: "Liberation Serif", size: 11pt)\n{paragraphs}'
    own = Read(typeset_once(source), pool, tmp_path / "pictures")
    (mark,) = [block for block in own.document.blocks if block.excluded]
    assert (mark.text, mark.spots[0].box.height > 150) == ("Copied", True)
    assert own.seen(own.document) == []


def test_of_a_long_document_few_pages_are_kept_and_broken_ones_are_left_out():
    drawn = []

    def draw(number: int) -> InkedPage:
        if number == 7:
            raise OSError
        drawn.append(number)
        return InkedPage(np.zeros((4, 4), np.uint8), 1.0)

    pages = InkedPages(range(1, 101), draw)
    assert [number for number in pages if pages.get(number) is None] == [7]
    assert len(drawn) == 99
    assert pages.get(100) is not None
    assert pages.get(101) is None
    assert len(drawn) == 99
    assert pages.get(1) is not None
    assert drawn[-1] == 1
    assert len(pages._kept) == KEPT
