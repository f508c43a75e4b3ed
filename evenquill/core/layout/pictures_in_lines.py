"""Pictures that stand in a line of text, as signs, keys and icons do: they become words of it."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import PictureKind, PlacedPicture
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.layout.word_spaces import TAB_GAP
from evenquill.core.model import Box, union
from evenquill.core.model.inline import OBJECT

TALLEST = 1.9
"""Ems: what is taller pushes the lines apart, and stands beside the text rather than in it."""

WIDEST = 6.0
"""Ems; what is wider, and as low, is an ornament or a rule."""

NEAR = 1.5
"""Ems from the nearest word: what is further away is in the margin, or in another column of a table."""

OVER = 0.3
"""Ems that a picture and a word may have in common; what has more is drawn over the text, or behind it."""

WITHIN = (PictureKind.RASTER, PictureKind.DRAWING)


def with_pictures_in_lines(
    rows: Sequence[FlowLine], pictures: Sequence[PlacedPicture]
) -> tuple[list[FlowLine], list[PlacedPicture]]:
    """Rows with the small pictures that stand in them, and the pictures that stand by themselves."""
    out = list(rows)
    alone: list[PlacedPicture] = []
    for picture in pictures:
        at = _row_of(out, picture) if picture.kind in WITHIN else None
        if at is None:
            alone.append(picture)
        else:
            out[at] = _with_picture(out[at], picture)
    return out, alone


def _row_of(rows: Sequence[FlowLine], picture: PlacedPicture) -> int | None:
    """The place of the row that a picture stands in, None where it stands in none."""
    box = picture.box
    found = [n for n, row in enumerate(rows) if row.box.y0 <= box.center_y <= row.box.y1 and _stands_in(row, box)]
    return min(found, key=lambda n: abs(rows[n].box.center_y - box.center_y), default=None)


def _stands_in(row: FlowLine, box: Box) -> bool:
    if box.height > TALLEST * row.size or box.width > WIDEST * row.size:
        return False
    gaps = [max(box.x0 - word.box.x1, word.box.x0 - box.x1) for word in row.words]
    return min(gaps) <= NEAR * row.size and all(gap >= -OVER * row.size for gap in gaps)


def _with_picture(row: FlowLine, picture: PlacedPicture) -> FlowLine:
    """The row with a picture as a word of its own, spaces where there are gaps."""
    box = picture.box
    before = [word for word in row.words if word.box.center_x < box.center_x]
    after = list(row.words[len(before) :])
    look = (before[-1] if before else after[0]).type
    parting = _parting(box.x0 - before[-1].box.x1, row) if before else ""
    word = FlowWord(OBJECT, parting, look, 0, None, box, picture=picture)
    if after:
        after[0] = after[0]._replace(before=_parting(after[0].box.x0 - box.x1, row))
    return row._replace(
        box=union((row.box, Box(box.x0, row.box.y0, box.x1, row.box.y1))),
        x0=min(row.x0, box.x0),
        x1=max(row.x1, box.x1),
        words=(*before, word, *after),
    )


def _parting(gap: float, row: FlowLine) -> str:
    """What parts a picture from a word: a picture may stand closer than a word would."""
    if gap > TAB_GAP * row.size:
        return "\t"
    return " " if gap > 0.1 * row.size else ""
