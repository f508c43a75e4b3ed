"""Real parts for all tests: PDFs set in type for the occasion, a pool of reading processes, a context with a data folder."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pypdfium2 as pdfium
import pytest
import typst

from evenquill.core.evidence import PageEvidence
from evenquill.core.model import Block, Document, PictureBlock, Role, TableBlock, TextBlock
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.native import read_page
from evenquill.core.reading.pages import PagePool
from evenquill.core.rebuild import rebuild
from evenquill.core.source import examine

Typeset = Callable[..., Path]


@pytest.fixture
def typeset(tmp_path: Path) -> Typeset:
    """Sets Typst source as a PDF on A5 paper and returns its path."""

    def make(source: str, name: str = "page", paper: str = "a5") -> Path:
        path = tmp_path / f"{name}.pdf"
        head = (
            f'#set page(paper: "{paper}", margin: 18mm)\n#set text(font: "Libertinus Serif", size: 10pt, lang: "en")\n'
        )
        (tmp_path / f"{name}.typ").write_text(head + source, encoding="utf-8")
        typst.compile(tmp_path / f"{name}.typ", output=path)
        return path

    return make


@pytest.fixture
def pictures(tmp_path: Path) -> PictureFolder:
    return PictureFolder(tmp_path / "pictures")


@pytest.fixture
def read(pictures: PictureFolder) -> Callable[[Path], list[PageEvidence]]:
    """Evidence of all pages of a PDF."""

    def pages(path: Path) -> list[PageEvidence]:
        document = pdfium.PdfDocument(path)
        return [read_page(document, number, pictures.keep) for number in range(1, len(document) + 1)]

    return pages


@pytest.fixture
def rebuilt(read: Callable[[Path], list[PageEvidence]]) -> Callable[[Path], Document]:
    """The document that a PDF is rebuilt as."""
    return lambda path: rebuild(read(path), examine(path))


@pytest.fixture(scope="session")
def pool() -> Iterator[PagePool]:
    with PagePool(2) as made:
        yield made


def texts(document: Document, role: Role | None = None) -> list[str]:
    """The texts of a document's blocks, of one role or of all."""
    return [block.text for block in text_blocks(document) if role is None or block.role is role]


def text_blocks(document: Document) -> list[TextBlock]:
    return [block for block in document.blocks if isinstance(block, TextBlock)]


def picture_blocks(document: Document) -> list[PictureBlock]:
    return [block for block in document.blocks if isinstance(block, PictureBlock)]


def tables(document: Document) -> list[TableBlock]:
    return [block for block in document.blocks if isinstance(block, TableBlock)]


def grid(table: TableBlock) -> list[list[str]]:
    """What stands in each row of a table; a cell that takes several columns is there once, one of several rows in its first."""
    return [[cell.text for cell in table.cells if cell.row == row] for row in range(table.row_count)]


def block_with(document: Document, text: str) -> TextBlock:
    """The one text block that holds these words."""
    (found,) = [block for block in text_blocks(document) if text in block.text]
    return found


def ids(blocks: tuple[Block, ...]) -> list[str]:
    return [block.id for block in blocks]
