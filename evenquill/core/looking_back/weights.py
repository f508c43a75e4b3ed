"""Words that are bolder, or lighter, in the source than in the result."""

from __future__ import annotations

import math
import statistics
from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from itertools import groupby
from typing import NamedTuple

from evenquill.core.looking_back.ink import InkedPage
from evenquill.core.looking_back.likelihoods import likelihood
from evenquill.core.looking_back.looks import LookDoubt, LookKind
from evenquill.core.looking_back.pairs import TextPair, WordPair, line_box
from evenquill.core.model import NOTES, Box, Document, Marks, PictureBlock, Spot, TextBlock
from evenquill.core.model.geometry import union
from evenquill.core.model.inline import spans

ENOUGH = 25
"""Words of one typeface and weight from which what they have in common is that typeface's own."""

OF_TYPEFACES = 0.12
"""By how much (natural logarithm of strokes) the bold face of a stand-in may differ more from that of the source than its regular one."""

BEYOND = 0.16
"""Deviation, as a natural logarithm, from which a word counts: strokes of bold letters are 1.4 to 1.8 times as thick as those of
regular ones."""

OTHER_FACE = 0.2
"""Difference of widths (natural logarithm) from which a word is of another face: bold letters are wider than
regular ones by up to 0.16."""

OF_FEW = 1.5
"""By how many more spreads a single word may differ by chance than many in a row."""

SHORT = 3
"""Letters of words that go along with those around them."""

FAINT = 0.6
"""Share of the usual deviation of a run below which a word at its end is none of it."""

FEWEST_LETTERS = 3
SURE_LETTERS = 14
"""Letters from which a run is judged by its mean alone; shorter ones err more."""


class _Measured(NamedTuple):
    """A word with the logarithms of the quotients of its strokes, and of its widths, in the source and in the result; and the face that it
    is set in."""

    pair: WordPair
    face: str
    bold: bool
    ratio: float
    width: float


def weight_doubts(
    document: Document,
    pairs: Sequence[TextPair],
    source: Mapping[int, InkedPage],
    result: Mapping[int, InkedPage],
    scanned: Collection[int],
) -> Iterator[tuple[str, LookDoubt]]:
    """Runs of words whose strokes differ from what words of their typeface have in common; with the id of their text."""
    art = [spot for block in document.blocks if isinstance(block, PictureBlock) for spot in block.spots]
    across = [spot for block in document.blocks if block.excluded for spot in block.spots]
    free = [one._replace(words=_not_under(one.words, across)) for one in pairs if not _is_on(one, art)]
    measured = [(one, list(_measured(document, one, source, result, scanned))) for one in free]
    usual = _Usual([word for _, words in measured for word in words])
    for one, words in measured:
        beyond = [(word, 0.0 if usual.is_of_another_face(word) else word.ratio - usual(word)) for word in words]
        sides = _sides(beyond)
        for side, group in groupby(zip(beyond, sides, strict=True), key=lambda item: item[1]):
            run = [item for item, _ in group]
            if side and (doubt := _doubt(run, usual.spread(run[0][0]))) is not None:
                yield one.block.id, doubt


def _is_on(one: TextPair, art: Sequence[Spot]) -> bool:
    """Whether a text stands on a picture, whose ink is not its own."""
    spots = [word.source for word in one.words[:1]]
    return any(spot.page == page and box.holds_middle(spot.box) for spot in spots for page, box in art)


def _not_under(words: Sequence[WordPair], across: Sequence[Spot]) -> tuple[WordPair, ...]:
    """The words without those on which something is printed that is set aside: its ink would make them bolder."""
    return tuple(
        word
        for word in words
        if not any(spot.page == word.source.page and _touch(spot.box, word.source.box) for spot in across)
    )


def _touch(one: Box, other: Box) -> bool:
    return one.overlap_x(other) > 0 and one.overlap_y(other) > 0


def _measured(
    document: Document,
    one: TextPair,
    source: Mapping[int, InkedPage],
    result: Mapping[int, InkedPage],
    scanned: Collection[int],
) -> Iterator[_Measured]:
    if one.block.role in NOTES:  # which are set smaller than they say in the result
        return
    style = document.style(one.block.style)
    bold = _bold_characters(one.block, of_style=style.bold)
    for pair in one.words:
        letters = sum(character.isalnum() for character in pair.text)
        if letters < 2 or pair.source.page in scanned:
            continue
        page, made = source.get(pair.source.page), result.get(pair.result.page)
        if page is None or made is None:
            continue
        strokes = [
            where.stroke(line_box(spot.box, style.size)) for where, spot in ((page, pair.source), (made, pair.result))
        ]
        if min(strokes) > 0:
            ratio = math.log(strokes[0] / strokes[1])
            width = math.log(max(pair.source.box.width, 1.0) / max(pair.result.box.width, 1.0))
            yield _Measured(pair, style.font or style.family, pair.source.start in bold, ratio, width)


def _bold_characters(block: TextBlock, *, of_style: bool) -> set[int]:
    """The places of the characters that are set bold."""
    return {
        at
        for start, item in spans(block.content)
        if (Marks.BOLD in item.marks) != of_style
        for at in range(start, start + len(item.text))
    }


class _Usual:
    """What words of a face and a weight have in common: the logarithm of the quotient of their strokes."""

    def __init__(self, words: Sequence[_Measured]) -> None:
        by_face: dict[tuple[str, bool], list[float]] = defaultdict(list)
        for word in words:
            by_face[word.face, word.bold].append(word.ratio)
        widths: dict[str, list[float]] = defaultdict(list)
        for word in words:
            widths[word.face].append(word.width)
        self._widths = {face: statistics.median(own) for face, own in widths.items()}
        every = [word.ratio for word in words]
        self._all = statistics.median(every) if every else 0.0
        self._own = {key: statistics.median(ratios) for key, ratios in by_face.items() if len(ratios) >= ENOUGH}
        self._spread = {
            face: _spread([*by_face.get((face, False), ()), *by_face.get((face, True), ())]) for face, _ in by_face
        }

    def is_of_another_face(self, word: _Measured) -> bool:
        """Whether a word is so much wider or narrower than others of its face that it was set in another one in the source, as typewriting
        is among other text: strokes of two typefaces are not compared."""
        return abs(word.width - self._widths[word.face]) > OTHER_FACE

    def spread(self, word: _Measured) -> float:
        """How far words of a face are usually from what they have in common."""
        return self._spread[word.face]

    def __call__(self, word: _Measured) -> float:
        regular = self._own.get((word.face, False), self._all)
        if not word.bold:
            return regular
        own = self._own.get((word.face, True), regular)
        return regular + min(max(own - regular, -OF_TYPEFACES), OF_TYPEFACES)


def _spread(ratios: Sequence[float]) -> float:
    """Like the standard deviation of normal errors, whatever a few of them are (Hampel 1974)."""
    middle = statistics.median(ratios)
    return 1.4826 * statistics.median(abs(ratio - middle) for ratio in ratios)


def _sides(words: Sequence[tuple[_Measured, float]]) -> list[int]:
    """For each word 1 where the source is bolder, -1 where it is lighter, 0 where neither is plain. Short words are as those around them
    are where they are set alike."""
    sides = [0 if abs(deviation) < BEYOND else 1 if deviation > 0 else -1 for _, deviation in words]
    for n in range(1, len(words) - 1):
        before, after = sides[n - 1], sides[n + 1]
        word = words[n][0]
        alike = words[n - 1][0].bold is word.bold is words[n + 1][0].bold
        if not sides[n] and before == after and alike and len(word.pair.text) <= SHORT:
            sides[n] = before
    return sides


def _doubt(run: Sequence[tuple[_Measured, float]], spread: float) -> LookDoubt | None:
    """What is said of a run of words on one page: those on the page of the first. ``spread`` is that of words of its face."""
    page = run[0][0].pair.source.page
    own = _without_ends([(word, deviation) for word, deviation in run if word.pair.source.page == page])
    letters = sum(len(word.pair.text) for word, _ in own)
    if letters < FEWEST_LETTERS:
        return None
    mean = sum(deviation * len(word.pair.text) for word, deviation in own) / letters
    if own[0][0].bold == (mean > 0):
        return None  # it is what it looks like already; the source's typeface is heavier, or lighter
    noise = spread * (1 + OF_FEW / math.sqrt(len(own)))
    measure = max(abs(mean) - noise, 0.0) * min(1.0, math.sqrt(letters / SURE_LETTERS))
    kind = LookKind.BOLDER if mean > 0 else LookKind.LIGHTER
    boxes = [word.pair.source.box for word, _ in own]
    chance = likelihood(kind, measure)
    return LookDoubt(kind, page, union(boxes), round(measure, 3), chance, ends=(boxes[0], boxes[-1]))


def _without_ends(run: list[tuple[_Measured, float]]) -> list[tuple[_Measured, float]]:
    """A run without words at its ends that differ far less than its others: short words err more."""
    usual = statistics.median(abs(deviation) for _, deviation in run)
    start, end = 0, len(run)
    while end - start > 1 and abs(run[end - 1][1]) < FAINT * usual:
        end -= 1
    while end - start > 1 and abs(run[start][1]) < FAINT * usual:
        start += 1
    return run[start:end]
