"""Bullets that are drawn and no letters: discs, rings and squares before lines, as browsers draw those of lists, and boxes to tick."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from evenquill.core.evidence import Line, Word
from evenquill.core.model import Box
from evenquill.core.reading.native.lines import WIDE_GAP
from evenquill.core.reading.native.shape import Shape

SMALLEST, LARGEST = 0.15, 0.95
"""Ems of the text: sides of a bullet."""

SQUARE = 0.7
"""The shorter side of a bullet over the longer one, at least."""

FARTHEST = 3.5
"""Ems between a bullet and its text, at most."""

LOWEST, HIGHEST = 0.05, 0.7
"""Ems above the baseline between which the middle of a bullet stands."""

SIGNS = {(True, True): "•", (True, False): "◦", (False, True): "▪", (False, False): "□"}
"""By whether the shape has curved parts, and is filled."""


def with_drawn_bullets(lines: Sequence[Line], shapes: Sequence[Shape]) -> tuple[tuple[Line, ...], frozenset[Box]]:
    """The lines, those before which a small shape stands alone with the bullet that it is, and the boxes of these shapes.

    A bullet far from its text is a line of its own, as it is if it is a letter.
    """
    before: defaultdict[int, list[Shape]] = defaultdict(list)
    largest = LARGEST * max((line.size for line in lines), default=0.0)
    for shape in shapes:
        if max(shape.box.width, shape.box.height) > largest:
            continue
        place = _line_behind(shape.box, lines)
        if place is not None:
            before[place].append(shape)
    out: list[Line] = []
    used: set[Box] = set()
    for n, line in enumerate(lines):
        own = before.get(n, [])
        if len(own) != 1:  # several in a row are a pattern
            out.append(line)
            continue
        (shape,) = own
        used.add(shape.box)
        word = Word(SIGNS[shape.slanted, shape.filled], shape.box.x0, shape.box.x1, line.words[0].type)
        if line.words[0].x0 - shape.box.x1 > WIDE_GAP * line.size:
            box = line.box._replace(x0=shape.box.x0, x1=shape.box.x1)
            out += [line._replace(box=box, words=(word,)), line]
        else:
            out.append(line._replace(box=line.box._replace(x0=shape.box.x0), words=(word, *line.words)))
    return tuple(out), frozenset(used)


def _line_behind(box: Box, lines: Sequence[Line]) -> int | None:
    """The place of the line that a shape stands before, at the height and in the size of a bullet."""
    best, nearest = None, float("inf")
    for n, line in enumerate(lines):
        if line.angle or not line.box.y0 < box.center_y < line.box.y1 or line.box.x1 < box.x0:
            continue
        gap = line.words[0].x0 - box.x1
        if gap < nearest:
            best, nearest = n, gap
    if best is None or nearest < 0:
        return None
    line = lines[best]
    sides = sorted((box.width, box.height))
    fits = SMALLEST * line.size <= sides[0] and sides[1] <= LARGEST * line.size and sides[0] >= SQUARE * sides[1]
    height = (line.baseline - box.center_y) / line.size
    return best if fits and nearest <= FARTHEST * line.size and LOWEST <= height <= HIGHEST else None
