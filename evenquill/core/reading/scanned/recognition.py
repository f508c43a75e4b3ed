"""Lines of a page -> their words: short pieces of one row are read together, doubtful lines once more in another way."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model.text import NOTE_SIGNS
from evenquill.core.reading.scanned.alignment import Column, columns_of, on_their_ink
from evenquill.core.reading.scanned.between_dashes import between_dashes, with_dashes
from evenquill.core.reading.scanned.heights import with_ends_at_letters, with_seen_heights, with_seen_signs
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.points import decimal_of, with_points, with_unread_signs
from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.recogniser import read_line
from evenquill.core.reading.scanned.segments import Layer, Segments, line_picture
from evenquill.core.reading.scanned.spacing import (
    beside_capitals_or_figures,
    missed_spaces,
    parted_at,
    spaces_of,
    with_seen_spaces,
)
from evenquill.core.reading.scanned.stray_signs import MANY_SPECKS, without_lone_dirt, without_stray_signs
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.underlined import rules_below
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol, mean_confidence

SHORT = 14
"""Pieces of ink up to which a line is read together with its neighbours: a number alone tells too little of its size."""

APART = 1.6
"""X-heights between pieces of a row that are read together: wide enough for a space, too narrow for a sign."""

LONGEST_ROW = 90
"""X-heights of a row put together, at most."""

DOUBTFUL = 0.82
"""Confidence of a line's weakest word below which the line is read again."""

LONG_X_HEIGHT, SHORT_X_HEIGHT = 20.0, 26.0
"""Pixels to which small letters are brought for long rows and for what is read again, and for short ones.

The recogniser's own scaling comes after this: it loses less from larger letters, and takes longer to find them.
"""

LONG = 40
"""Pieces of ink from which a row is long."""

READ_AGAIN_SHARE = 0.12
"""Share of the page's characters that may be read again; the rest of the doubts is left as it is."""

SMUDGE = 3
"""Pieces of ink up to which a row in which nothing is read is dirt, such as the edge of a punched hole."""

SURER, LESS_SURE = 0.05, 0.25
"""Confidence that a line read with wider spaces must gain for its letters to be taken, and that it may lose and still show that these
are spaces."""

FIGURE = 0.68
"""X-height over the height of figures."""

LIKE_FIGURES = {"l": "1", "I": "1", "|": "1", "i": "1", "!": "1", "'": "1", "‘": "1", "’": "1", "O": "0", "o": "0", "?": "2",
                "z": "2", "Z": "2", "S": "5", "s": "5", "B": "8", "”": "2", "“": "2", '"': "2"}  # fmt: skip
NOTE_MARK = re.compile(rf"^(\d{{1,3}}|[{NOTE_SIGNS}]{{1,3}})[.)]?$")

_ROMAN = re.compile(r"[ivx]{2,5}|[IVX]{2,5}")

SURE_OF_SHAPE = 0.97
"""Confidence in a bullet that is known by its shape."""

SAMPLED_LETTERS = 450
"""Pieces of ink from which language and direction are told."""

MOST_SAMPLED = 30
"""Lines that are sampled, at most: a page on its side has many short ones."""

LONG_SHARE = 0.6
"""Letters of a line over those of the one that has most, from which it is as good to be sampled."""

MOST_LETTERS = 2 * SAMPLED_LETTERS
"""Pieces of ink after which no more lines are sampled, however little was made of them."""

TELLING = 0.5
"""Confidence from which a line tells a language."""

LETTER = 0.6
"""Page's x-heights from which a piece of ink may be a letter, and no dot of a row that leads the eye."""


class Sample(NamedTuple):
    """Lines of a page read before the others."""

    lines: tuple[ReadLine, ...] = ()

    @property
    def text(self) -> str:
        return " ".join(line.text for line in self.lines)

    @property
    def telling(self) -> list[str]:
        """What its lines say from which the language can be told: leaders, rules and signs are read as something too."""
        return [line.text for line in self.lines if line.confidence >= TELLING]

    @property
    def confidence(self) -> float:
        return mean_confidence(self.lines)

    @property
    def sense(self) -> float:
        """How much of its lines is read how surely, together."""
        return sum(line.sense for line in self.lines)


class Row(NamedTuple):
    """Lines read in one picture: its pixels, and places in the picture (first row) with those on the page (second row).

    ``starts`` are where the lines begin in the picture, ``columns`` where its ink is.
    """

    picture: Pixels
    lines: tuple[TextLine, ...]
    starts: tuple[int, ...]
    places: NDArray[np.float64]
    columns: list[Column]
    x_height: float


def sample_of(segments: Segments, languages: Sequence[str]) -> Sample:
    """Reads the best lines of the page: those of many letters, of the usual size."""
    lines = [line for line in plain_lines(segments.black) if line.x_height < 1.6 * segments.x_height]
    return sample_among(segments, lines, languages, most=min(max(3, len(lines) // 2), MOST_SAMPLED))


def sample_among(segments: Segments, lines: Sequence[TextLine], languages: Sequence[str], *, most: int) -> Sample:
    """Reads those of the lines that have most letters, each alone, until there are enough that something is read of: ``most`` of them
    at the most. Long ones are taken from all over the page."""
    heights = segments.black.pieces.heights
    letters = {id(line): int(np.count_nonzero(heights[line.pieces] >= LETTER * segments.x_height)) for line in lines}
    longest = max(letters.values(), default=0)
    long = [line for line in lines if letters[id(line)] >= LONG_SHARE * longest]
    step = max(int(len(long) * longest / SAMPLED_LETTERS), 1)
    spread = {id(line): n for n, line in enumerate(line for start in range(step) for line in long[start::step])}
    found: list[ReadLine] = []
    for line in sorted(lines, key=lambda one: (spread.get(id(one), len(spread)), -letters[id(one)]))[:most]:
        found += _read_alone(segments, line, languages)
        telling = sum(letters[id(one.line)] for one in found if one.confidence >= TELLING)
        if telling > SAMPLED_LETTERS or sum(letters[id(one.line)] for one in found) > MOST_LETTERS:
            break
    return Sample(tuple(found))


def sample_again(segments: Segments, sample: Sample, languages: Sequence[str]) -> Sample:
    """The lines of a sample read in other languages."""
    return Sample(tuple(read for line in sample.lines for read in _read_alone(segments, line.line, languages)))


def _read_alone(segments: Segments, line: TextLine, languages: Sequence[str]) -> list[ReadLine]:
    return _read(_row(segments, segments.black, [line]), languages)


def recognised(
    segments: Segments, layer: Layer, languages: Sequence[str], known: Sequence[ReadLine] = ()
) -> list[ReadLine]:
    """All lines of a layer, in the layer's order, with their words; lines in which nothing is read have none.

    ``known`` are lines of the layer that were read already.
    """
    read_alone = {id(line.line): line for line in known}
    found: dict[int, ReadLine] = {}
    apostrophes = []
    for line in layer.lines:
        if line.sign:
            found[id(line)] = _as_sign(line)
        elif line.raised:
            found[id(line)] = _read_raised(segments, layer, line, languages)
            if not found[id(line)].words:
                apostrophes.append(line)
    layer = layer._replace(lines=_given_back(layer.lines, apostrophes))
    rows = [_row(segments, layer, lines) for lines in _rows(plain_lines(layer))]
    for row in rows:
        alone = read_alone.get(id(row.lines[0])) if len(row.lines) == 1 else None
        for read in [alone] if alone else _read(row, languages):
            found[id(read.line)] = read
    # Taken off, a rule may have taken the feet of the letters with it: what is seen of these tells nothing.
    ruled = [line for row in rows for line in row.lines if rules_below(line, segments.rules.level)]
    for line in ruled:
        row = _row(segments, layer, [line], ruled=True)
        (second,) = _of_lines(row, read_line(row.picture, row.x_height, languages, LONG_X_HEIGHT, plain=True))
        first = found[id(line)]
        found[id(line)] = second if second.confidence > first.confidence else better(first, second)
    for line in plain_lines(layer):
        numbered = _read_between_dashes(segments, layer, line, languages)
        if numbered is not None:
            found[id(line)] = numbered
    budget = READ_AGAIN_SHARE * sum(len(line.pieces) for line in layer.lines) + SHORT
    footless = {id(line) for line in ruled}
    doubtful = [
        (line, row) for row in rows for line in row.lines if id(line) not in footless and _is_doubtful(found[id(line)])
    ]
    again: dict[int, list[ReadLine]] = {}
    for line, row in sorted(doubtful, key=lambda one: _weakest(found[id(one[0])])):
        budget -= len(line.pieces)
        if budget < 0:
            break
        if len(line.pieces) > SHORT and len(row.lines) > 1:
            # Alone: what misled the recogniser may have been a neighbour in the row.
            second = _read_otherwise(_row(segments, layer, [line]), languages)[0]
        else:
            # A number alone tells too little of its size.
            if id(row) not in again:
                again[id(row)] = _read_otherwise(row, languages)
            second = again[id(row)][[one is line for one in row.lines].index(True)]
        found[id(line)] = better(found[id(line)], second)._replace(twice=True)
    grey = segments.raster.grey
    decimal = decimal_of(found.values())
    found = {key: with_points(line, layer.pieces, grey, decimal) for key, line in found.items()}
    footed = [line for line in plain_lines(layer) if id(line) not in footless]
    _read_spaced(segments, layer, languages, footed, found)
    plain = {id(line) for line in plain_lines(layer)}
    return [
        _as_seen(found[id(line)], segments, layer.pieces, footed=id(line) not in footless)
        if id(line) in plain
        else found[id(line)]
        for line in layer.lines
    ]


def _as_seen(line: ReadLine, segments: Segments, pieces: Pieces, *, footed: bool) -> ReadLine:
    """The line with what its ink shows put right: spaces, heights, signs, dirt; only dirt where its letters are not ``footed``."""
    if footed:
        line = with_seen_signs(with_seen_heights(with_seen_spaces(line), pieces), pieces)
    tidy = without_stray_signs(line, dirty=segments.specks >= MANY_SPECKS)
    if footed:
        tidy = with_ends_at_letters(tidy, pieces)
    return without_lone_dirt(with_unread_signs(tidy, pieces), segments.x_height)


def plain_lines(layer: Layer) -> list[TextLine]:
    """The lines that are letters on a baseline, and no signs known by their shape."""
    return [line for line in layer.lines if not line.sign and not line.raised]


def _read_raised(segments: Segments, layer: Layer, line: TextLine, languages: Sequence[str]) -> ReadLine:
    """A raised figure, read large and alone; nothing where it is no figure or note mark."""
    alone = line._replace(a=float(line.y1), b=0.0, x_height=FIGURE * (line.y1 - line.y0))
    read = _read(_row(segments, layer, [alone]), languages)[0]
    text = "".join(LIKE_FIGURES.get(symbol.text, symbol.text) for word in read.words for symbol in word.symbols)
    if not NOTE_MARK.match(text):
        return ReadLine(line, ())
    width = (line.x1 - line.x0) / len(text)
    symbols = tuple(
        Symbol(c, line.x0 + n * width, line.x0 + (n + 1) * width, read.confidence) for n, c in enumerate(text)
    )
    return ReadLine(line, (ReadWord(symbols, read.confidence),))


def _read_between_dashes(segments: Segments, layer: Layer, line: TextLine, languages: Sequence[str]) -> ReadLine | None:
    """A number between dashes, read alone and large; None where a line is none."""
    dashed = between_dashes(line, layer.pieces)
    if dashed is None:
        return None
    row = _row(segments, layer, [dashed.line])
    for read in (*_read(row, languages), *_read_otherwise(row, languages)):
        number = _as_number(read)
        if number is not None:
            return with_dashes(line, dashed, number)
    return None


def _as_number(line: ReadLine) -> ReadLine | None:
    """A line that is a number, its letters that look like figures put right; None for any other."""
    text = "".join(word.text for word in line.words)
    if not _ROMAN.fullmatch(text):
        text = "".join(LIKE_FIGURES.get(c, c) for c in text)
    if (
        len(line.words) != 1
        or len(text) != len(line.words[0].symbols)
        or not (text.isdigit() or _ROMAN.fullmatch(text))
    ):
        return None
    symbols = tuple(symbol._replace(text=c) for symbol, c in zip(line.words[0].symbols, text, strict=True))
    return line._replace(words=(line.words[0]._replace(symbols=symbols),))


def _given_back(lines: Sequence[TextLine], raised: Sequence[TextLine]) -> list[TextLine]:
    """The lines with what stands raised and is no mark put back into the lines that it was taken from: apostrophes, quotes."""
    out = [line for line in lines if all(line is not one for one in raised)]
    for one in raised:
        for n, line in enumerate(out):
            if line.raised or line.sign or (line.a, line.b) != (one.a, one.b):
                continue
            if line.x0 - line.x_height < one.x0 and one.x1 < line.x1 + line.x_height:
                out[n] = line._replace(
                    pieces=np.concatenate([line.pieces, one.pieces]),
                    x0=min(line.x0, one.x0),
                    y0=min(line.y0, one.y0),
                    x1=max(line.x1, one.x1),
                    y1=max(line.y1, one.y1),
                )
                break
    return out


def _read_spaced(
    segments: Segments,
    layer: Layer,
    languages: Sequence[str],
    lines: Sequence[TextLine],
    found: dict[int, ReadLine],
) -> None:
    """Reads lines again, in place, in which spaces were missed: with these made so wide that nobody misses them.

    Where that makes the reading a little less sure, the words as they were read first are parted at these places; where it makes
    it much less sure, there was no space between small letters.
    """
    spaces = spaces_of(list(found.values()))
    grey, decimal = segments.raster.grey, decimal_of(found.values())
    for line in lines:
        first = found[id(line)]
        columns = columns_of(layer.pieces.boxes[line.pieces])
        missed = missed_spaces(first, spaces, columns)
        if missed and first.words:
            again = _read(_row(segments, layer, [line], missed), languages)[0]
            again = with_points(again, layer.pieces, grey, decimal)
            if again.confidence > first.confidence + SURER or _letters(again) == _letters(first):
                found[id(line)] = parted_at(again, missed_spaces(again, spaces, columns))
            elif again.confidence > first.confidence - LESS_SURE:
                found[id(line)] = parted_at(first, missed)
            else:
                found[id(line)] = parted_at(first, beside_capitals_or_figures(first, missed))


def _letters(line: ReadLine) -> str:
    return "".join(word.text for word in line.words)


def better(first: ReadLine, second: ReadLine) -> ReadLine:
    """The surer of two readings of a line; word by word where they have the same words."""
    if len(first.words) == len(second.words):
        return first._replace(words=tuple(map(_surer, first.words, second.words)))
    return second if second.confidence > first.confidence else first


def _surer(first: ReadWord, second: ReadWord) -> ReadWord:
    """The surer of two readings of a word, with the other as its rival where it differs."""
    best, other = (second, first) if second.confidence > first.confidence else (first, second)
    return best._replace(rival=other.text) if other.text != best.text else best


def _as_sign(line: TextLine) -> ReadLine:
    """What is known by its shape is not read. One piece alone might still be a letter."""
    step = (line.x1 - line.x0) / len(line.pieces)
    sure = 1.0 if len(line.pieces) > 1 else SURE_OF_SHAPE
    dots = tuple(Symbol(line.sign, line.x0 + n * step, line.x0 + (n + 1) * step, sure) for n in range(len(line.pieces)))
    return ReadLine(line, (ReadWord(dots, sure),))


def _weakest(line: ReadLine) -> float:
    return min((word.confidence for word in line.words), default=0.0)


def _rows(lines: Iterable[TextLine]) -> list[list[TextLine]]:
    """Lines as they are to be read: long ones alone, short ones with their neighbours on the same baseline."""
    rows: list[list[TextLine]] = []
    ordered = sorted(lines, key=lambda line: (line.middle, line.x0))
    for line in ordered:
        for row in reversed(rows[-12:]):
            if _goes_with(row, line):
                row.append(line)
                break
        else:
            rows.append([line])
    out = []
    for row in rows:
        row.sort(key=lambda line: line.x0)
        part: list[TextLine] = []
        for line in row:
            width = sum(one.x1 - one.x0 for one in [*part, line])
            if part and width > LONGEST_ROW * line.x_height:
                out.append(part)
                part = []
            part.append(line)
        out.append(part)
    return out


def _goes_with(row: list[TextLine], line: TextLine) -> bool:
    last = row[-1]
    size = min(last.x_height, line.x_height)
    return (
        min(len(last.pieces), len(line.pieces)) <= SHORT
        and abs(last.middle - line.middle) < 0.3 * size
        and max(last.x_height, line.x_height) < 1.6 * size
        and all(line.x0 >= one.x1 or line.x1 <= one.x0 for one in row)
    )


def _row(
    segments: Segments, layer: Layer, lines: Sequence[TextLine], spaces: Sequence[float] = (), *, ruled: bool = False
) -> Row:
    """The lines' own ink side by side on one baseline; ``spaces`` are places on the page that are widened, and ``ruled`` keeps the rules
    below letters."""
    x_height = float(np.median([line.x_height for line in lines]))
    gap = round(APART * x_height)
    crops = [line_picture(segments, layer, line, 3, ruled=ruled) for line in lines]
    bases = [round(line.middle) - y0 for line, (_, _, y0) in zip(lines, crops, strict=True)]
    above = max(bases)
    below = max(crop.shape[0] - base for (crop, _, _), base in zip(crops, bases, strict=True))
    paper = np.full((above + below, gap), WHITE, np.uint8)
    parts: list[Pixels] = []
    starts, seen, placed, x = [], [], [], 0
    for (crop, x0, _), base in zip(crops, bases, strict=True):
        level = np.full((above + below, crop.shape[1]), WHITE, np.uint8)
        level[above - base : above - base + crop.shape[0]] = crop
        cuts = [0, *sorted(round(place - x0) for place in spaces if 0 < place - x0 < crop.shape[1]), crop.shape[1]]
        starts.append(x)
        for start, end in itertools.pairwise(cuts):
            parts += [level[:, start:end], paper]
            seen += [x, x + end - start]
            placed += [x0 + start, x0 + end]
            x += end - start + gap
    places = np.array([seen, placed], np.float64)
    columns: list[Column] = []
    for line in lines:
        ends = columns_of(layer.pieces.boxes[line.pieces])
        columns += [(float(x0), float(x1)) for x0, x1 in np.interp(np.array(ends), placed, seen)]
    return Row(np.hstack(parts[:-1]), tuple(lines), tuple(starts), places, columns, x_height)


def _read(row: Row, languages: Sequence[str]) -> list[ReadLine]:
    """What the lines of a row say."""
    plain = _is_long(row)
    read = read_line(row.picture, row.x_height, languages, LONG_X_HEIGHT if plain else SHORT_X_HEIGHT, plain=plain)
    # Where the paper is grainy, the recogniser may find no line at all in the picture, unless it need not look for one.
    anything = read or plain or sum(len(line.pieces) for line in row.lines) <= SMUDGE
    return _of_lines(row, read) if anything else _read_otherwise(row, languages)


def _read_otherwise(row: Row, languages: Sequence[str]) -> list[ReadLine]:
    """What the lines of a row say if the recogniser looks for the parts of a long one, and takes a short one as it is: a line of capitals
    alone, for one, misleads it about the size of its letters where it looks for them."""
    return _of_lines(row, read_line(row.picture, row.x_height, languages, LONG_X_HEIGHT, plain=not _is_long(row)))


def _is_doubtful(line: ReadLine) -> bool:
    return _weakest(line) < DOUBTFUL if line.words else len(line.line.pieces) > SMUDGE


def _is_long(row: Row) -> bool:
    return sum(len(line.pieces) for line in row.lines) >= LONG


def _of_lines(row: Row, read: Sequence[ReadWord]) -> list[ReadLine]:
    """The words of a row's picture, each with the line of which it is."""
    words = on_their_ink(read, row.columns, row.x_height)
    ends = [*row.starts[1:], row.picture.shape[1] + 1]
    seen, placed = row.places
    out = []
    for line, start, end in zip(row.lines, row.starts, ends, strict=True):
        mine = []
        for word in words:
            symbols = tuple(
                symbol._replace(
                    x0=float(np.interp(symbol.x0, seen, placed)), x1=float(np.interp(symbol.x1, seen, placed))
                )
                for symbol in word.symbols
                if start <= symbol.middle < end
            )
            if symbols:
                mine.append(ReadWord(symbols, word.confidence))
        out.append(ReadLine(line, tuple(mine)))
    return out
