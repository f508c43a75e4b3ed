"""Characters -> lines of words.

Runs are cut into pieces at wide gaps, pieces are gathered on baselines, and words are parted by the spaces that the page
sets or, where it sets none, by gaps against the line's own letter spacing.
"""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from evenquill.core.evidence import IN_NO_BLOCK, OUTSIDE, Line, Type, Word
from evenquill.core.model import Box, Marks
from evenquill.core.reading.native.characters import Characters, TextRun
from evenquill.core.reading.native.direction import has_right_to_left, in_reading_order, is_right_to_left

WIDE_GAP = 1.15
"""Ems. A gap wider than this ends a line: justified text seldom stretches its spaces so far, column gutters and tabs do."""

WORD_GAP = 0.13
"""Ems beyond the letter spacing. The tightest justified spaces are about 0.2 em, kerning stays under 0.1."""

SEEN_GAP = 0.06
"""The same where PDFium sees a space: it goes by the pen, and an italic letter may begin before that."""

ACCENTS = {"\u0300": "`", "\u0301": "´", "\u0302": "^", "\u0303": "~", "\u0308": "¨"}
"""Combining accents and the signs that they are when there is no letter before them."""

SAME_BASELINE = 0.12
"""Ems between baselines that count as one; rounding in producers stays under 0.05."""

OVERLAP = 0.05
"""Ems by which letters overlap that do so by the boxes of their font and not by kerning."""

SAMPLED_GAPS = 20
"""Gaps between letters that are enough to tell letterspacing."""

SHIFTED = 0.55
"""Ems by which a super- or subscript's baseline may be off its line's."""

SMALLER = 0.86
"""Size of a super- or subscript over that of its line, at most; a note mark alone may be larger."""

TINIEST = 0.4
"""Size of a super- or subscript over that of its line, at least: text beside a drop cap is smaller than that."""

LONGEST_SHIFTED = 12
"""Characters in a super- or subscript."""

LONGEST_MARK = 3
"""Characters in a note mark."""


NO_TAGS: Mapping[int, int] = MappingProxyType({})


class Glyph(NamedTuple):
    """A character seen with its text upright: left and right end, top and bottom, in points; ``apart`` if a space seems to be before it."""

    text: str
    apart: bool
    x0: float
    x1: float
    top: float
    bottom: float


class Piece(NamedTuple):
    """Neighbouring characters of one look on one baseline."""

    glyphs: list[Glyph]
    type: int
    size: float
    baseline: float
    tag: int = OUTSIDE

    @property
    def x0(self) -> float:
        return self.glyphs[0].x0

    @property
    def x1(self) -> float:
        return self.glyphs[-1].x1


class Gathered(NamedTuple):
    """Lines in no particular order, those that run oblique apart, and the types that their words refer to."""

    lines: tuple[Line, ...]
    oblique: tuple[Line, ...]
    types: tuple[Type, ...]


def lines_of(characters: Characters, tag_of_content: Mapping[int, int] = NO_TAGS) -> Gathered:
    """The characters of a page as lines.

    ``tag_of_content`` gives the place of the tag that a marked content belongs to.
    """
    types: dict[Type, int] = {}
    by_angle: dict[tuple[int, bool, bool], list[Piece]] = {}
    upright = _upright_glyphs(characters)
    against = has_right_to_left(characters.texts)
    for run in _joined(characters.runs):
        number = types.setdefault(run.type, len(types))
        glyphs = upright[run.angle][run.start : run.end]
        look = Piece([], number, run.type.size, run.baseline, _tag_of(run.content, tag_of_content))
        by_angle.setdefault((run.angle, run.oblique, run.type.unseen), []).extend(
            _pieces(glyphs, look, against=against)
        )
    found: dict[bool, list[Line]] = {False: [], True: []}
    for (angle, oblique, _), pieces in by_angle.items():
        found[oblique].extend(_line(group, angle, oblique=oblique) for group in _gather(pieces))
    lines, aslant = (tuple(line for line in found[oblique] if line.words) for oblique in (False, True))
    return Gathered(in_reading_order(lines) if against else lines, aslant, tuple(types))


def _joined(runs: Sequence[TextRun]) -> Iterator[TextRun]:
    """The runs, those that follow each other in one look on one baseline as one: some producers set each letter by itself."""
    current: TextRun | None = None
    for run in runs:
        if current is not None and run == current._replace(start=run.start, end=run.end) and run.start == current.end:
            current = current._replace(end=run.end)
            continue
        if current is not None:
            yield current
        current = run
    if current is not None:
        yield current


def _tag_of(content: int, tag_of_content: Mapping[int, int]) -> int:
    """The place of the tag that a marked content, -1 for none, belongs to."""
    return tag_of_content.get(content, IN_NO_BLOCK if content >= 0 and tag_of_content else OUTSIDE)


def _upright_glyphs(characters: Characters) -> dict[int, list[Glyph]]:
    """All characters as glyphs, for each angle in use with the text at that angle upright."""
    x0, y0, x1, y1 = characters.boxes.T
    frames = {0: (x0, x1, y0, y1), 90: (-y1, -y0, x0, x1), 180: (-x1, -x0, -y1, -y0), 270: (y0, y1, -x1, -x0)}
    angles = {run.angle for run in characters.runs}
    return {
        angle: list(map(Glyph, characters.texts, characters.apart, *(values.tolist() for values in frames[angle])))
        for angle in angles
    }


def _pieces(glyphs: list[Glyph], look: Piece, *, against: bool) -> list[Piece]:
    """The glyphs of a run, in pieces of its look: cut wherever the pen jumps, back or ahead by a wide gap.

    Letters that are written from right to left, if there are any (``against``), are taken from the left like all others.
    """
    if against and is_right_to_left("".join(glyph.text for glyph in glyphs)):
        glyphs = sorted(glyphs, key=lambda glyph: glyph.x0)
    ahead, back = WIDE_GAP * look.size, 0.3 * look.size
    cuts = [
        n
        for n, (left, right) in enumerate(itertools.pairwise(glyphs), 1)
        if right.x0 - left.x1 > ahead or right.x0 < left.x0 - back
    ]
    ends = zip([0, *cuts], [*cuts, len(glyphs)], strict=True)
    kept = (_trimmed(look._replace(glyphs=glyphs[start:end])) for start, end in ends)
    return [piece for piece in kept if piece.glyphs]


def _trimmed(piece: Piece) -> Piece:
    """Without spaces at its outer ends, but with one kept as the sign that a word begins or ends there."""
    glyphs = piece.glyphs
    start, end = 0, len(glyphs)
    while start < end and glyphs[start].text.isspace():
        start += 1
    while end > start and glyphs[end - 1].text.isspace():
        end -= 1
    if start == end:
        return piece._replace(glyphs=[])
    return piece._replace(glyphs=glyphs[max(start - 1, 0) : end + 1])


def _ink(piece: Piece) -> tuple[float, float]:
    """Left and right end of a piece without the spaces kept at its ends."""
    glyphs = piece.glyphs
    first = glyphs[1] if glyphs[0].text.isspace() and len(glyphs) > 1 else glyphs[0]
    last = glyphs[-2] if glyphs[-1].text.isspace() and len(glyphs) > 1 else glyphs[-1]
    return first.x0, last.x1


def _gather(pieces: list[Piece]) -> list[list[Piece]]:
    """Pieces that form lines: first on one baseline, then shifted small pieces beside a larger neighbour."""
    pieces.sort(key=lambda piece: (piece.baseline, piece.x0))
    baselines: list[list[Piece]] = []
    for piece in pieces:
        for group in reversed(baselines[-4:]):
            small, large = sorted((piece.size, group[0].size))
            if abs(piece.baseline - group[0].baseline) <= SAME_BASELINE * small and small > TINIEST * large:
                group.append(piece)
                break
        else:
            baselines.append([piece])
    lines: list[list[Piece]] = []
    level: list[int] = []
    for group in baselines:
        group.sort(key=lambda piece: piece.x0)
        own = _cut_at_gaps(group)
        lines += own
        level += [sum(len(piece.glyphs) for piece in group)] * len(own)
    return _with_shifted(lines, level)


def _cut_at_gaps(group: list[Piece]) -> list[list[Piece]]:
    lines: list[list[Piece]] = []
    right = 0.0
    for piece in group:
        x0, x1 = _ink(piece)
        if not lines or x0 - right > WIDE_GAP * max(piece.size, lines[-1][-1].size):
            lines.append([piece])
            right = x1
        else:
            lines[-1].append(piece)
            right = max(right, x1)
    return lines


def _with_shifted(lines: list[list[Piece]], level: Sequence[int]) -> list[list[Piece]]:
    """Superscripts and subscripts put into the lines that they belong to; ``level`` are the characters on the baseline of each."""
    whole = list(lines)
    lengths = [sum(len(piece.glyphs) for piece in line) for line in whole]
    spans = [(_ink(line[0])[0], max(_ink(piece)[1] for piece in line), max(p.size for p in line)) for line in whole]
    order = sorted(range(len(whole)), key=lambda i: spans[i][2])
    by_baseline = sorted(range(len(whole)), key=lambda i: whole[i][0].baseline)
    baselines = [whole[i][0].baseline for i in by_baseline]
    # How far a shifted piece can be from its line, and a line, which may begin with one by now, from where it was.
    farthest = SHIFTED * max((size for _, _, size in spans), default=0.0)
    moved = 0.0
    began = [line[0].baseline for line in whole]
    gone: set[int] = set()
    for i in order:
        x0, x1, size = spans[i]
        if lengths[i] > LONGEST_SHIFTED:
            continue
        best: tuple[float, int] | None = None
        here, far = whole[i][0].baseline, farthest + moved
        near = by_baseline[bisect_left(baselines, here - far) : bisect_right(baselines, here + far)]
        for j in sorted(near):
            other0, other1, other_size = spans[j]
            shift = abs(whole[i][0].baseline - whole[j][0].baseline)
            is_mark = lengths[i] <= LONGEST_MARK < lengths[j]
            largest = other_size if is_mark else SMALLER * other_size
            if j == i or j in gone or not TINIEST * other_size < size <= largest:
                continue
            reach = 0.35 * other_size
            if shift > SHIFTED * other_size or x0 > other1 + reach or x1 < other0 - reach:
                continue
            if level[i] > LONGEST_SHIFTED and _lies_over(whole[i], whole[j]):
                continue  # a piece of another line, set close to this one
            if best is None or shift < best[0]:
                best = (shift, j)
        if best is not None:
            j = best[1]
            whole[j] = sorted([*whole[j], *whole[i]], key=lambda piece: _ink(piece)[0])
            spans[j] = (min(spans[j][0], x0), max(spans[j][1], x1), spans[j][2])
            moved = max(moved, abs(whole[j][0].baseline - began[j]))
            gone.add(i)
    return [line for i, line in enumerate(whole) if i not in gone]


def _lies_over(small: list[Piece], line: list[Piece]) -> bool:
    """Whether small letters stand over or under the letters of a line, not between them."""
    x0, x1 = _ink(small[0])[0], max(_ink(piece)[1] for piece in small)
    over = sum(
        max(min(glyph.x1, x1) - max(glyph.x0, x0), 0.0)
        for piece in line
        if piece.size > small[0].size
        for glyph in piece.glyphs
        if not glyph.text.isspace()
    )
    return over > 0.5 * (x1 - x0)


def _line(pieces: list[Piece], angle: int, *, oblique: bool = False) -> Line:
    largest = max(piece.size for piece in pieces)
    large = [piece for piece in pieces if piece.size > SMALLER * largest] or pieces
    main = max(large, key=lambda piece: len(piece.glyphs))
    words = _words(pieces, main)
    if not words:
        return Line(Box(0, 0, 0, 0), 0, 0, ())
    # All glyphs of a piece have one font and baseline, so one of them tells the height of all.
    tops = [piece.glyphs[0].top for piece in pieces]
    bottoms = [piece.glyphs[0].bottom for piece in pieces]
    # Some fonts claim absurd heights; letters reach neither above one em nor below a third.
    top = max(min(tops), main.baseline - 1.1 * largest)
    bottom = min(max(bottoms), main.baseline + 0.4 * largest)
    if bottom - top < 0.5 * largest:
        top, bottom = main.baseline - 0.75 * largest, main.baseline + 0.25 * largest
    if oblique:  # it is as tall as all of its glyphs together
        top = min(glyph.top for piece in pieces for glyph in piece.glyphs)
        bottom = max(glyph.bottom for piece in pieces for glyph in piece.glyphs)
    box = _page_box(words[0].x0, max(word.x1 for word in words), top, bottom, angle)
    return Line(box.rounded(), round(main.baseline, 2), main.size, words, angle, main.tag)


def _page_box(x0: float, x1: float, top: float, bottom: float, angle: int) -> Box:
    if angle == 90:
        return Box(top, -x1, bottom, -x0)
    if angle == 180:
        return Box(-x1, -bottom, -x0, -top)
    if angle == 270:
        return Box(-bottom, x0, -top, x1)
    return Box(x0, top, x1, bottom)


def _words(pieces: list[Piece], main: Piece) -> tuple[Word, ...]:
    spacing = _letter_spacing(pieces)
    words: list[Word] = []
    letters: list[str] = []
    start = end = 0.0
    space = True
    glued = False
    before: Piece | None = None

    def close(piece: Piece) -> None:
        nonlocal letters, space
        text = _spacing_accents("".join(letters))
        if text and glued and words and not any(c.isalnum() for c in text) and not _shift(piece, main):
            # A sign from another font (a hyphen, a quote) belongs to the word that it touches.
            words[-1] = words[-1]._replace(text=words[-1].text + text, x1=round(end, 2))
            letters = []
            space = False
        elif letters:
            words.append(Word(text, round(start, 2), round(end, 2), piece.type, int(_shift(piece, main)), glued))
            letters = []
            space = False

    for piece in pieces:
        limit, seen = WORD_GAP * piece.size + spacing, SEEN_GAP * piece.size + spacing
        level = before is not None and (before.size, before.baseline) == (piece.size, piece.baseline)
        before = piece
        for glyph in piece.glyphs:
            if glyph.text.isspace():
                close(piece)
                space = True
                continue
            parted = glyph.x0 - end > (seen if glyph.apart and level else limit)
            if letters and parted:
                close(piece)
                space = True
            elif not letters and words and parted:
                space = True
            if not letters:
                start = glyph.x0
                glued = bool(words) and not space
            letters.append(glyph.text)
            end = glyph.x1
            level = True
        close(piece)
    return tuple(words)


def _spacing_accents(text: str) -> str:
    """A word with the accent that it begins with as a sign of its own: typesetters use one for a quotation mark."""
    return ACCENTS.get(text[:1], text[:1]) + text[1:]


def _letter_spacing(pieces: list[Piece]) -> float:
    """Points between letters where the line is letterspaced, or where all of them overlap (below 0), else 0; its first letters tell."""
    gaps: list[float] = []
    for piece in pieces:
        last: Glyph | None = None
        for glyph in piece.glyphs:
            if not glyph.text.isalnum():
                last = None
                continue
            if last is not None:
                gaps.append(glyph.x0 - last.x1)
            last = glyph
        if len(gaps) >= SAMPLED_GAPS:
            break
    if len(gaps) < 4:
        return 0.0
    usual = sorted(gaps)[len(gaps) // 2]
    # Letters of some fonts reach far into the room of the next by their boxes: their gaps are measured from there.
    return usual if usual > 0 or usual < -OVERLAP * pieces[0].size else 0.0


def _shift(piece: Piece, main: Piece) -> Marks:
    lift = main.baseline - piece.baseline
    if piece.size > SMALLER * main.size and (abs(lift) < 0.2 * main.size or piece.size > main.size):
        return Marks.NONE
    if lift > 0.15 * main.size:
        return Marks.SUPER
    if lift < -0.05 * main.size:
        return Marks.SUB
    return Marks.NONE
