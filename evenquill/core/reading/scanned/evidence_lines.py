"""Lines as read, in pixels -> lines as evidence, in points: with types, cut at wide gaps, raised figures put in."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import Line, Type, Word
from evenquill.core.model import Box, Marks, OtherReading
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.reading.scanned.colour import ink_colour
from evenquill.core.reading.scanned.grey_ink import greys_of
from evenquill.core.reading.scanned.looks import families_of, measured, types_of
from evenquill.core.reading.scanned.segments import Layer, Segments
from evenquill.core.reading.scanned.sizes import Heights, size_of, spread_of_ink
from evenquill.core.reading.scanned.small_capitals import SmallCapitals, small_capitals_of
from evenquill.core.reading.scanned.two_inks import put_together
from evenquill.core.reading.scanned.words import ReadLine, ReadWord

WIDE_GAP = 1.25
"""Ems. A gap wider than this ends a line, as on native pages, where the room beside letters is not counted."""

RAISED_SIZE = 0.65
"""Type size of raised figures over that of their line."""

ASCENT, DESCENT = 0.95, 0.27
"""Ems that a line reaches above and below its baseline."""

CLOSING, CLOSE = frozenset(".,;:!?)”’»"), 0.25
"""Signs that a raised figure may stand before without a space, and ems to them."""

LEAST_SHARE = 0.05
"""Share of belief below which another reading of a character is not kept."""


RIVAL_SHARE = 0.5
"""Share of belief in what another reading of a word says."""

UNREAD_SHARE = 0.5
"""Share of belief in a sign that was seen behind a word and not read; as often as not it is dirt."""


def evidence_lines(
    segments: Segments, black: Sequence[ReadLine], coloured: Sequence[ReadLine]
) -> tuple[list[Line], list[Type]]:
    """Lines in points, from top to bottom, and the types that their words refer to; lines without words are left out."""
    numbers: dict[Type, int] = {}
    of_black = _layer_lines(segments, segments.black, black, numbers)
    of_colour = _layer_lines(segments, segments.coloured, coloured, numbers) if segments.coloured else []
    out = put_together(of_black, of_colour, numbers, WIDE_GAP)
    return sorted(out, key=lambda line: (line.baseline, line.box.x0)), list(numbers)


def _layer_lines(segments: Segments, layer: Layer, read: Sequence[ReadLine], numbers: dict[Type, int]) -> list[Line]:
    lines = [line for line in read if line.words]
    if not lines:
        return []
    unit = segments.raster.dpi / 72
    spread = spread_of_ink(lines, layer.pieces, segments.even)
    looks = measured(lines, layer.pieces, segments.even, segments.raster.dpi, spread)
    types = types_of(lines, looks, families_of(lines, looks), segments.raster.dpi)
    out: list[Line] = []
    raised: list[tuple[Word, float]] = []
    greys = greys_of([line.line for line in lines], layer.pieces, segments.even)
    for line, line_types, grey in zip(lines, types, greys, strict=True):
        if line.line.raised:
            one = line_types[0]._replace(size=round(line_types[0].size * RAISED_SIZE * 2) / 2)
            word = _word(line.words[0], numbers.setdefault(one, len(numbers)), unit)
            raised.append((word, line.line.middle / unit))
            continue
        if layer is segments.coloured:
            color = _colour_of(segments, layer, line)
            line_types = [one._replace(color=color) for one in line_types]
        elif grey is not None:
            line_types = [one._replace(color=grey) for one in line_types]
        parts = _parts(line, line_types, small_capitals_of(line, layer.pieces), unit, spread)
        words = [
            _word(word, numbers.setdefault(one, len(numbers)), unit)._replace(glued=glued) for word, one, glued in parts
        ]
        line_types = [one for _, one, _ in parts]
        size = max((one.size for one in line_types), default=0.0)
        here = line.line
        for part in _at_wide_gaps(words, WIDE_GAP * size):
            middle = here.baseline((part[0].x0 + part[-1].x1) / 2 * unit)
            top = max(middle - ASCENT * size * unit, 0.0)
            box = Box(part[0].x0, top / unit, part[-1].x1, (middle + DESCENT * size * unit) / unit)
            out.append(Line(box.rounded(), round(middle / unit, 2), size, tuple(part)))
    return _with_raised(out, raised)


def _parts(
    line: ReadLine, types: Sequence[Type], small: SmallCapitals | None, unit: float, spread: float
) -> list[tuple[ReadWord, Type, bool]]:
    """The words of a line, those in small capitals in two parts of two sizes, and whether each belongs to the one before."""
    if small is None:
        return [(word, one, False) for word, one in zip(line.words, types, strict=True)]
    capitals = Heights(0.0, (small.height - spread) / unit)
    size = round(size_of(capitals, types[0].family) * 2) / 2
    out = []
    for word, one, count in zip(line.words, types, small.capitals, strict=True):
        large, low = one._replace(size=size), one._replace(size=round(size * small.ratio, 1))
        if count:
            unread = word.unread if count == len(word.symbols) else ""
            out.append((word._replace(symbols=word.symbols[:count], unread=unread, rival=""), large, False))
        if count < len(word.symbols):
            symbols = tuple(symbol._replace(text=symbol.text.upper()) for symbol in word.symbols[count:])
            out.append((word._replace(symbols=symbols, rival=""), low, count > 0))
    return out


def _with_raised(lines: list[Line], raised: list[tuple[Word, float]]) -> list[Line]:
    """Raised figures put into the lines that they stand over."""
    for word, baseline in raised:
        near = [
            i
            for i, line in enumerate(lines)
            if abs(line.baseline - baseline) < 0.3 * line.size
            and line.box.x0 - line.size < word.x1
            and word.x0 < line.box.x1 + line.size
        ]
        if not near:
            continue
        i = min(near, key=lambda i: max(lines[i].box.x0 - word.x0, word.x1 - lines[i].box.x1, 0.0))
        line = lines[i]
        before = [other for other in line.words if other.x0 < word.x0]
        after = [other for other in line.words if other.x0 >= word.x0]
        if after and after[0].text[:1] in CLOSING and after[0].x0 - word.x1 < CLOSE * line.size:
            after[0] = after[0]._replace(glued=True)
        mark = word._replace(marks=int(Marks.SUPER), glued=bool(before))
        box = line.box._replace(x0=min(line.box.x0, word.x0), x1=max(line.box.x1, word.x1))
        lines[i] = line._replace(words=(*before, mark, *after), box=box)
    return lines


def _word(word: ReadWord, type_number: int, unit: float) -> Word:
    others = tuple(
        OtherReading(n, text, share)
        for n, symbol in enumerate(word.symbols)
        for text, share in symbol.others
        if share > LEAST_SHARE
    )
    if word.rival:
        others = (*others, OtherReading(WHOLE_WORD, word.rival, RIVAL_SHARE))
    if word.unread:
        others = (*others, OtherReading(len(word.symbols), word.unread, UNREAD_SHARE))
    return Word(
        word.text,
        round(word.x0 / unit, 2),
        round(word.x1 / unit, 2),
        type_number,
        confidence=round(word.confidence, 3),
        others=others,
    )


def _at_wide_gaps(words: list[Word], gap: float) -> list[list[Word]]:
    parts: list[list[Word]] = []
    for word in words:
        if not parts or word.x0 - parts[-1][-1].x1 > gap:
            parts.append([])
        parts[-1].append(word)
    return parts


def _colour_of(segments: Segments, layer: Layer, line: ReadLine) -> str | None:
    here = line.line
    own = layer.pieces.mask_of(here.pieces, here.x0, here.y0, here.x1, here.y1)
    return ink_colour(segments.raster.pixels[here.y0 : here.y1, here.x0 : here.x1], own)
