"""Flow lines: what stands on one baseline of a column, as one line of text with tabs where the gaps are wide."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import OUTSIDE, FoundEquation, Line, PageEvidence, PlacedPicture, Type, Word
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.word_spaces import TAB_GAP, stretched_rows
from evenquill.core.model import Align, Box, Link, Marks, OtherReading, TabStop, union

DOTS = ".…·"
"""Signs that leaders are made of."""

LEADER_DOTS = 4
"""Dots in a row that lead the eye and say nothing."""

FLUSH_RIGHT = 3.0
"""Points from the right edge within which text ends at it."""

SHIFTED = int(Marks.SUPER | Marks.SUB)
"""Marks of words that stand off the baseline and do not tell the look of their line."""

SMALL_CAPITALS = int(Marks.SMALL_CAPITALS)
"""The mark of a word in small capitals."""

UNDERLINED = int(Marks.UNDERLINE)
"""The mark of underlined words as words have it, a number: asking a flag of every word costs more than all else that is measured."""

LABEL = re.compile(r"^[(\[]?(\d+(\.\d+)*|[a-zA-Z]|[ivxlcIVXLC]+)[.)\]:]?$")
_DOTS = re.compile(rf"^[{DOTS}]+$")


class FlowWord(NamedTuple):
    """A word with what parts it from the one before: nothing, a space, or a tab; ``leader`` if the tab had dots. ``picture`` is one that
    stands in the line like a word, ``equation`` one that is one."""

    text: str
    before: str
    type: Type
    marks: int
    link: Link | None
    box: Box
    leader: bool = False
    confidence: float = 1.0
    others: tuple[OtherReading, ...] = ()
    picture: PlacedPicture | None = None
    equation: FoundEquation | None = None


class FlowEquation(NamedTuple):
    """A displayed equation, which has its lines for itself: ``line`` has it as its only word."""

    line: FlowLine

    @property
    def box(self) -> Box:
        return self.line.box


class FlowLine(NamedTuple):
    """A line of text in a column. ``x0`` and ``x1`` are its ends with the text upright, ``box`` is on the page; ``tag`` is the
    place of its tag among the page's, -1 for none."""

    page: int
    box: Box
    x0: float
    x1: float
    baseline: float
    size: float
    words: tuple[FlowWord, ...]
    tag: int = OUTSIDE

    @property
    def text(self) -> str:
        return "".join(word.before + word.text for word in self.words).strip()

    @property
    def printed(self) -> str:
        """Its text in capitals where it is in small ones."""
        return "".join(word.text.upper() if word.marks & SMALL_CAPITALS else word.text for word in self.words)

    @property
    def tabbed(self) -> bool:
        """Whether a tab stands within the line."""
        return any(word.before == "\t" for word in self.words[1:])

    @property
    def main_type(self) -> Type:
        """The look of most of its letters."""
        first = self.words[0].type
        if all(word.type is first for word in self.words):
            return first
        weights: dict[Type, int] = {}
        for word in self.words:
            if not word.marks & SHIFTED:
                weights[word.type] = weights.get(word.type, 0) + len(word.text)
        return max(weights, key=lambda look: weights[look]) if weights else self.words[0].type


def flow_lines(page: PageEvidence, lines: list[Line]) -> list[FlowLine]:
    """Pieces of one column (all at one angle) gathered into rows from top to bottom."""
    rows = rows_of(lines, beside=True)
    return [_flow_line(page, row, stretched) for row, stretched in zip(rows, stretched_rows(rows), strict=True)]


def _flow_line(page: PageEvidence, row: list[Line], stretched: bool) -> FlowLine:
    words: list[FlowWord] = []
    right = row[0].words[0].x0
    leader = False
    for line in row:
        for i, word in enumerate(line.words):
            if i == 0 and words:
                before = " " if stretched or _after_label(words, word, word.x0 - right, line.size) else "\t"
            else:
                before = "" if word.glued or not words else " "
            if leader:
                before = "\t"
            right = word.x1
            box = _word_box(line, word.x0, word.x1)
            if word.text[:1] in DOTS and _is_leader(line, i):
                leader = True
                continue
            words.append(
                FlowWord(
                    word.text.rstrip("…") if leader else word.text,
                    before if words else "",
                    page.types[word.type],
                    word.marks,
                    page.target_of(page.links[word.link]) if word.link is not None else None,
                    box,
                    leader,
                    word.confidence,
                    word.others,
                    equation=None if word.equation is None else page.equations[word.equation],
                )
            )
            leader = False
    largest = max(row, key=lambda line: sum(len(word.text) for word in line.words))
    return FlowLine(
        page.number,
        union(line.box for line in row),
        row[0].words[0].x0,
        max(line.words[-1].x1 for line in row),
        largest.baseline,
        largest.size,
        tuple(words) or (_first_word(page, row[0]),),
        row[0].tag if all(line.tag == row[0].tag for line in row) else OUTSIDE,
    )


def _first_word(page: PageEvidence, line: Line) -> FlowWord:
    """For a row that is nothing but dots."""
    word = line.words[0]
    return FlowWord(line.text, "", page.types[word.type], word.marks, None, line.box)


def _after_label(words: list[FlowWord], word: Word, gap: float, size: float) -> bool:
    """Whether the gap only follows a number or letter in front of words, as in ``2.1  North pier``."""
    return gap < TAB_GAP * size and len(words) == 1 and word.text[:1].isalpha() and bool(LABEL.match(words[0].text))


def _is_leader(line: Line, i: int) -> bool:
    """Whether the word is part of a row of at least LEADER_DOTS dots."""
    if not _DOTS.match(line.words[i].text):
        return False
    start = end = i
    while start > 0 and _DOTS.match(line.words[start - 1].text):
        start -= 1
    while end + 1 < len(line.words) and _DOTS.match(line.words[end + 1].text):
        end += 1
    return sum(len(word.text) for word in line.words[start : end + 1]) >= LEADER_DOTS


def _word_box(line: Line, x0: float, x1: float) -> Box:
    box = line.box
    if not line.angle:
        return Box(x0, box.y0, x1, box.y1)
    if line.angle == 90:
        return Box(box.x0, -x1, box.x1, -x0)
    if line.angle == 180:
        return Box(-x1, box.y0, -x0, box.y1)
    return Box(box.x0, x0, box.x1, x1)


def tab_stops(lines: Sequence[FlowLine], left: float, right: float) -> tuple[TabStop, ...]:
    """A stop for each word that follows a tab, in points from ``left``.

    What ends at ``right``, or has dots before it, is set flush right.
    """
    stops: dict[float, TabStop] = {}
    for line in lines:
        for i, word in enumerate(line.words):
            if word.before != "\t" or i == 0:
                continue
            end = next((k for k in range(i + 1, len(line.words)) if line.words[k].before == "\t"), len(line.words))
            x1 = line.words[end - 1].box.x1
            if word.leader or (end == len(line.words) and right - x1 < FLUSH_RIGHT):
                stop = TabStop(round(x1 - left, 1), Align.RIGHT, word.leader)
            else:
                stop = TabStop(round(word.box.x0 - left, 1))
            stops.setdefault(stop.at, stop)
    return tuple(sorted((stop for stop in stops.values() if stop.at > 0), key=lambda stop: stop.at))
