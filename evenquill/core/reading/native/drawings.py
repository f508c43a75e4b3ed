"""Drawings among the paths of a page, and what only frames, rules off or stands behind text.

A drawing grows from paths with slanted or curved parts over all that touches it, and takes in the short labels around it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.evidence import Line
from evenquill.core.model import Box, union
from evenquill.core.reading.native.shape import Shape

THIN = 3.0
"""Points: the thickest bar that still counts as a rule."""

SMALLEST_PICTURE = 6.0
"""Points: what is smaller in both directions is a dot or a bullet."""

NEAR = 4.0
"""Points between parts of one drawing."""

LONG_LINE = 5
"""Words of a line that is too long for a label."""

BAND = 2.5
"""Height of a drawing over the size of a line on it, below which it is a band behind the line."""

LETTERS_OF_WORD = 3
"""Letters of a line on a band: fewer may be a sign that is drawn."""

LINES_OF_BLOCK = 3
WORDS_OF_BLOCK_LINE = 2.5
"""Lines with one left edge, and their words on average, from which they are text within a drawing; entries of a legend are shorter."""

LABEL_REACH = 1.4
"""Ems from a drawing within which its labels stand."""

AWAY = 0.5
"""Share of the words within a drawing's box from which they are text beside it, if they stand away from its slanted parts."""

WIDEST_LEADING = 1.7
"""Distance of lines in such a block over their size."""


def drawings_of(
    shapes: Sequence[Shape], lines: Sequence[Line], oblique: Sequence[Line]
) -> tuple[list[Box], list[Shape]]:
    """Boxes of drawings, and the shapes that belong to none.

    A drawing grows from its slanted shapes over everything that touches it. What only frames text, holds running text or leads on beside
    text is none.
    """
    clusters: list[Box] = []
    for shape in shapes:
        if shape.slanted:
            clusters = _merged(clusters, shape.box)
    slanted = clusters
    grown = True
    rest = [shape for shape in shapes if not shape.slanted]
    while clusters and grown:
        grown = False
        left = []
        for shape in rest:
            touching = [box for box in clusters if _touch(box, shape.box)]
            if touching:
                grown = True
                clusters = _merged(clusters, shape.box)
            else:
                left.append(shape)
        rest = left
    drawings = []
    labels = (*lines, *oblique)
    for box in clusters:
        if max(box.width, box.height) < 2 * SMALLEST_PICTURE:
            continue
        if min(box.width, box.height) <= THIN:  # a line of dots, or with round ends
            rest.append(Shape(box, slanted=False, filled=True))
            continue
        own = [shape for shape in shapes if box.holds(shape.box, 1.0)]
        if _frame_text([shape for shape in own if shape.slanted], lines):
            rest.extend(shape._replace(slanted=False) for shape in own)
            continue
        if not _holds_text(box, lines) and not _is_beside_text(own, box, lines):
            drawings.append(_with_labels(box, labels))
            continue
        # A frame or ground of text, or rules beside it, touch drawings: they are taken without it.
        rest.extend(shape for shape in own if not shape.slanted)
        alone = [other for other in slanted if box.holds(other, 1.0) and other not in clusters]
        drawings.extend(
            _with_labels(other, labels) for other in alone if _is_picture(other) and not _holds_text(other, lines)
        )
    return drawings, rest


def _frame_text(slanted: Sequence[Shape], lines: Sequence[Line]) -> bool:
    """Whether shapes with slanted parts are nothing but rectangles with rounded corners, and shades, and most frame a line of text."""
    texts = [line for line in lines if _has_word(line)]
    with_text = [any(_mostly_holds(shape.box, line.box) for line in texts) for shape in slanted if not shape.shade]
    return all(shape.framing for shape in slanted) and sum(with_text) > len(with_text) / 2


def _is_beside_text(own: Sequence[Shape], box: Box, lines: Sequence[Line]) -> bool:
    """Whether most words within the box of a drawing stand away from its slanted shapes and what touches these: so its rules and frames
    lead on beside text, as they do from a sign at the head of a page."""
    slanted = [shape.box for shape in own if shape.slanted]
    core = union([*slanted, *(shape.box for shape in own if any(_touch(shape.box, other) for other in slanted))])
    inside = [line for line in _upright_within(box, lines) if _has_word(line)]
    away = sum(len(line.words) for line in inside if not _is_near(core, line))
    return away > AWAY * sum(len(line.words) for line in inside)


def _is_near(box: Box, line: Line) -> bool:
    """Whether a line stands as near to a box as its label would."""
    reach = LABEL_REACH * line.size
    return box.overlap_x(line.box) > -reach and box.overlap_y(line.box) > -reach


def _is_picture(box: Box) -> bool:
    return min(box.width, box.height) > THIN and max(box.width, box.height) >= 2 * SMALLEST_PICTURE


def _merged(clusters: list[Box], box: Box) -> list[Box]:
    out = []
    for other in clusters:
        if _touch(other, box):
            box = union((other, box))
        else:
            out.append(other)
    return [*out, box]


def _touch(a: Box, b: Box) -> bool:
    return a.overlap_x(b) >= -NEAR and a.overlap_y(b) >= -NEAR


def _holds_text(box: Box, lines: Sequence[Line]) -> bool:
    """Whether lines within the box are text and no labels: long, one on a band hardly higher than itself, or a block of several."""
    inside = _upright_within(box, lines)
    long = [line for line in inside if len(line.words) >= LONG_LINE]
    if len(long) >= 2 or any(box.height < BAND * line.size for line in long or inside if _has_word(line)):
        return True
    return any(_is_block(run) for run in _left_aligned(inside))


def _upright_within(box: Box, lines: Sequence[Line]) -> list[Line]:
    return [line for line in lines if not line.angle and _mostly_holds(box, line.box)]


def _mostly_holds(box: Box, other: Box) -> bool:
    return box.overlap_x(other) > 0.9 * other.width and box.overlap_y(other) > 0.6 * other.height


def _has_word(line: Line) -> bool:
    return sum(map(str.isalpha, line.text)) >= LETTERS_OF_WORD


def _left_aligned(lines: list[Line]) -> Iterator[list[Line]]:
    """Runs of lines of one size under each other with one left edge."""
    run: list[Line] = []
    for line in sorted(lines, key=lambda line: (round(line.box.x0), line.baseline)):
        if run and not (
            abs(line.box.x0 - run[-1].box.x0) < 1.0
            and abs(line.size - run[-1].size) < 0.5
            and 0 < line.baseline - run[-1].baseline < WIDEST_LEADING * line.size
        ):
            yield run
            run = []
        run.append(line)
    if run:
        yield run


def _is_block(run: list[Line]) -> bool:
    return len(run) >= LINES_OF_BLOCK and sum(len(line.words) for line in run) >= WORDS_OF_BLOCK_LINE * len(run)


def _with_labels(box: Box, lines: Sequence[Line]) -> Box:
    """The drawing with the short labels at its edges: axis numbers, names of axes, legends.

    A label is set smaller than the page's text, or reaches into the drawing.
    """
    sizes = sorted(line.size for line in lines for _ in line.words)
    text_size = sizes[len(sizes) // 2] if sizes else 0.0
    labels = []
    for line in lines:
        small = line.size < 0.9 * text_size and len(line.words) <= 6
        inside = box.overlap_x(line.box) > 0.3 * line.box.width and box.overlap_y(line.box) > 0.3 * line.box.height
        if len(line.words) <= 6 and (inside or (small and _is_near(box, line))):
            labels.append(line.box)
    return union([box, *labels])
