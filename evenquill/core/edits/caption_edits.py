"""A caption for a picture or a table that has none, called as the document calls others."""

from __future__ import annotations

import re
from collections.abc import Iterator
from string import ascii_lowercase
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import style_for, styles_with
from evenquill.core.edits.lookup import place_of_row
from evenquill.core.edits.operations import AddCaption
from evenquill.core.errors import EditError
from evenquill.core.model import Block, Document, PictureBlock, Role, Spot, TableBlock, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text
from evenquill.core.model.labels import FIGURE_AND_TABLE, Label, label_of

ROOM = 18.0
"""Points of the page that are shown beside a new caption."""

_BEHIND_NUMBER = re.compile(r"\s*[.:)–—-]?\s*")


class _Caption(NamedTuple):
    """A caption of the kind that is looked for: its place, what it is called, whether it stands above its picture or table, and what
    stands between its number and its text."""

    at: int
    label: Label
    above: bool
    sign: str


def add_caption(document: Document, operation: AddCaption, ids: Ids) -> Edit:
    """Puts a caption below a picture, or above a table, or where the document has most others; the number follows that of the one before.

    A number that is taken by a later caption is not given twice: a letter follows the one before it.
    """
    at = place_of_row(document, operation.block)
    block = document.blocks[at]
    if not isinstance(block, PictureBlock | TableBlock):
        raise EditError("Only pictures and tables have captions.")
    if any(_owner(document, k) == at for k in (at - 1, at + 1)):
        raise EditError("It has a caption already.")
    is_table = isinstance(block, TableBlock)
    word = FIGURE_AND_TABLE.get(document.language[:2], FIGURE_AND_TABLE["en"])[is_table]
    others = list(_captions(document, type(block)))
    above = sum(one.above for one in others) > len(others) / 2 if others else is_table
    before = [one for one in others if one.at < at]
    text = _text(word, before, [one for one in others if one.at > at])
    style = style_for(document, Role.CAPTION, 0)
    spots = _beside(block.spots, above=above)
    caption = TextBlock(
        ids.new(), Role.CAPTION, content=from_text(text), style=style.id, spots=spots, section=block.section
    )
    place = at if above else at + 1
    if above and block.page_break:
        caption = replace(caption, page_break=True)
        rest: tuple[Block, ...] = (caption, replace(block, page_break=False))
        edit = splice(document, at, 1, rest, styles_with(document, style))
    else:
        edit = splice(document, place, 0, (caption,), styles_with(document, style))
    return edit._replace(focus=Focus(caption.id, len(text)))


def _beside(spots: tuple[Spot, ...], *, above: bool) -> tuple[Spot, ...]:
    """Where a caption would be printed: a strip above the first of these places, or below the last one."""
    if not spots:
        return ()
    page, box = spots[0 if above else -1].page, spots[0 if above else -1].box
    y0, y1 = (max(box.y0 - ROOM, 0.0), box.y0) if above else (box.y1, box.y1 + ROOM)
    return (Spot(page, box._replace(y0=y0, y1=y1)),)


def _captions(document: Document, kind: type[PictureBlock] | type[TableBlock]) -> Iterator[_Caption]:
    """The captions of pictures, or of tables, that have a number."""
    for at, block in enumerate(document.blocks):
        owner = _owner(document, at)
        if owner is not None and isinstance(block, TextBlock) and isinstance(document.blocks[owner], kind):
            label = label_of(block.text)
            if label is not None:
                sign = _BEHIND_NUMBER.match(block.text, label.end)
                yield _Caption(at, label, owner > at, sign.group() if sign else " ")


def _owner(document: Document, at: int) -> int | None:
    """The place of the picture or table that the row at a place is the caption of: of two, the picture above it, or the table below it."""
    blocks = document.blocks
    block = blocks[at] if 0 <= at < len(blocks) else None
    if not isinstance(block, TextBlock) or block.role is not Role.CAPTION or block.excluded:
        return None
    above, below = at - 1, at + 1
    if above >= 0 and isinstance(blocks[above], PictureBlock):
        return above
    if below < len(blocks) and isinstance(blocks[below], PictureBlock | TableBlock):
        return below
    return above if above >= 0 and isinstance(blocks[above], TableBlock) else None


def _text(word: str, before: list[_Caption], after: list[_Caption]) -> str:
    """What a caption begins with, between those before and after it."""
    if not before:
        like = after[0] if after else None
        number = "1" if like is None or like.label.number != "1" else ""
    else:
        like = before[-1]
        number = _next(like.label.number, {one.label.number for one in (*before, *after)})
    word, sign = (like.label.word, like.sign) if like is not None else (word, ": ")
    return f"{word} {number}{sign}" if number else f"{word} "


def _next(number: str, taken: set[str]) -> str:
    """The number behind one: its last part counted on, or a letter where that is taken."""
    head, figures = re.fullmatch(r"(.*?)(\d+)[a-z]?", number).groups()  # type: ignore[union-attr]
    following = f"{head}{int(figures) + 1}"
    if following not in taken:
        return following
    return next(
        (f"{head}{figures}{letter}" for letter in ascii_lowercase if f"{head}{figures}{letter}" not in taken), following
    )
