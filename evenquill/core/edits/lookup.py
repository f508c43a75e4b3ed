"""Rows by their ids, or a sentence why there is none that fits."""

from __future__ import annotations

from evenquill.core.errors import EditError
from evenquill.core.model import Block, Document, PictureBlock, TableBlock, TextBlock, texts_of


def place_of_row(document: Document, block: str) -> int:
    """The place of a row; text in a cell is none."""
    at = place_of_text(document, block)
    if document.blocks[at].id != block:
        raise EditError("That is text in a table. It can only be changed there, or the table as a whole.")
    return at


def place_of_text(document: Document, block: str) -> int:
    """The place of a row, or of the table that has a text in a cell."""
    try:
        return document.index(block)
    except KeyError:
        raise EditError("That row is no longer there.") from None


def text_row(document: Document, block: str) -> tuple[int, TextBlock]:
    """A row of text and its place."""
    place_of_row(document, block)
    return any_text(document, block)


def _no_text(block: Block) -> str:
    """Why a row cannot be changed as text."""
    if isinstance(block, TableBlock):
        return "That row is a table. Its text is in its cells."
    return "That row is a picture and has no text."


def any_text(document: Document, block: str) -> tuple[int, TextBlock]:
    """A row of text, or text in a cell, and the place of its row."""
    at = place_of_text(document, block)
    found = next((text for text in texts_of(document.blocks[at]) if text.id == block), None)
    if found is None:
        raise EditError(_no_text(document.blocks[at]))
    return at, found


def table_row(document: Document, block: str) -> tuple[int, TableBlock]:
    at = place_of_row(document, block)
    found = document.blocks[at]
    if not isinstance(found, TableBlock):
        raise EditError("That row is no table.")
    return at, found


def picture_row(document: Document, block: str) -> tuple[int, PictureBlock]:
    at = place_of_row(document, block)
    found = document.blocks[at]
    if not isinstance(found, PictureBlock):
        raise EditError("That row is not a picture.")
    return at, found
