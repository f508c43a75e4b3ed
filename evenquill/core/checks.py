"""What is to be looked at before a document goes out: for those who listen to it, find their way by headings, or read it elsewhere.

Nothing here keeps a document from being delivered.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from enum import StrEnum

import msgspec

from evenquill.core.colors import BLACK, LEAST_CONTRAST, LEAST_FOR_LARGE, WHITE, contrast
from evenquill.core.model import Block, Document, InlinePicture, PictureBlock, Role, TableBlock, TextBlock, texts_of

LARGE, LARGE_BOLD = 18.0, 14.0
"""Points from which letters are large, and from which bold ones are."""

LONG = 4
"""Pages from which a document without headings is hard to find one's way in."""


class CheckKind(StrEnum):
    STRUCTURE = "structure"
    TITLE = "title"
    LANGUAGE = "language"
    ALTERNATIVE_TEXT = "alternative text"
    HEADER_ROWS = "header rows"
    CONTRAST = "contrast"
    LOOKS = "looks"


class Check(msgspec.Struct, frozen=True):
    """Something to be looked at: a sentence about it, and the rows (place among the document's, id) where it is."""

    kind: CheckKind
    sentence: str
    places: tuple[int, ...] = ()
    rows: tuple[str, ...] = ()


def checks_of(document: Document) -> tuple[Check, ...]:
    """All that is to be looked at, by kind; nothing for a document of which there is nothing to say."""
    written = [(place, block) for place, block in enumerate(document.blocks) if not block.excluded]
    return (
        *_structure(document, written),
        *_whole(document),
        *_pictures(written),
        *_tables(written),
        *_contrast(document, written),
    )


def looks_check(document: Document, rows: Collection[str], compared: int) -> Check | None:
    """What is to be said where ``rows``, of so many that were ``compared``, look otherwise than their source; None for nothing."""
    found = sorted({(document.places[row], document.blocks[document.places[row]].id) for row in rows})
    if not found:
        return None
    which = "A row looks" if len(found) == 1 else f"{len(found)} rows look"
    alike = max(compared - len(found), 0)
    return _check(CheckKind.LOOKS, f"{which} otherwise than the source; {alike} of {compared} look alike.", found)


def _structure(document: Document, written: list[tuple[int, Block]]) -> Iterator[Check]:
    headings = [
        (place, block) for place, block in written if isinstance(block, TextBlock) and block.role is Role.HEADING
    ]
    if not headings and len(document.pages) >= LONG:
        yield Check(CheckKind.STRUCTURE, "There are no headings to find one's way by.")
    above, skipping = 0, []
    for place, block in headings:
        if block.level > above + 1:
            skipping.append((place, block.id))
        above = block.level
    if skipping:
        what = "A heading skips" if len(skipping) == 1 else f"{len(skipping)} headings skip"
        yield _check(CheckKind.STRUCTURE, f"{what} a level: who moves by headings misses one.", skipping)


def _whole(document: Document) -> Iterator[Check]:
    if not document.title.strip():
        yield Check(CheckKind.TITLE, "The document has no title of its own; its file name is read out instead.")
    if not document.language:
        yield Check(CheckKind.LANGUAGE, "The language is not known: it is read out as if it were another one.")


def _pictures(written: list[tuple[int, Block]]) -> Iterator[Check]:
    silent = [
        (place, block.id)
        for place, block in written
        if (isinstance(block, PictureBlock) and not block.alt.strip())
        or any(
            isinstance(item, InlinePicture) and not item.alt.strip()
            for text in texts_of(block)
            for item in text.content
        )
    ]
    if silent:
        what = "A picture is" if len(silent) == 1 else f"{len(silent)} pictures are"
        yield _check(CheckKind.ALTERNATIVE_TEXT, f"{what} not described: who listens is told nothing of them.", silent)


def _tables(written: list[tuple[int, Block]]) -> Iterator[Check]:
    headless = [
        (place, block.id)
        for place, block in written
        if isinstance(block, TableBlock) and block.row_count > 1 and len(block.widths) > 1 and not block.header_rows
    ]
    if headless:
        what = "A table has" if len(headless) == 1 else f"{len(headless)} tables have"
        yield _check(
            CheckKind.HEADER_ROWS,
            f"{what} no header row: cells are read out without the names of their columns.",
            headless,
        )


def _contrast(document: Document, written: list[tuple[int, Block]]) -> Iterator[Check]:
    pale: list[tuple[int, str]] = []
    for place, block in written:
        for text, ground in _on_grounds(block):
            style = document.style(text.style)
            large = style.size >= LARGE or (style.bold and style.size >= LARGE_BOLD)
            colors = {item.color or style.color or BLACK for item in text.content if item.text.strip()}
            if any(contrast(color, ground) < (LEAST_FOR_LARGE if large else LEAST_CONTRAST) for color in colors):
                pale.append((place, block.id))
                break
    if pale:
        what = "A row has" if len(pale) == 1 else f"{len(pale)} rows have"
        yield _check(CheckKind.CONTRAST, f"{what} letters so pale that many cannot read them.", pale)


def _on_grounds(block: Block) -> Iterator[tuple[TextBlock, str]]:
    """The texts of a row, each with the colour of what it stands on."""
    if isinstance(block, TableBlock):
        for cell in block.cells:
            yield from ((text, cell.fill or WHITE) for text in cell.texts)
    else:
        yield from ((text, WHITE) for text in texts_of(block))


def _check(kind: CheckKind, sentence: str, found: list[tuple[int, str]]) -> Check:
    places, rows = zip(*found, strict=True)
    return Check(kind, sentence, places, rows)
