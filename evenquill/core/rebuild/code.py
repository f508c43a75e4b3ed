"""Code: text in a fixed width whose lines stay lines, with its indentation and its columns kept as spaces."""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Family
from evenquill.core.rebuild.facts import Facts

USUAL_ADVANCE = 0.6
"""Ems; what a character of most faces of fixed width takes."""

FURTHEST = 2.4
"""Usual distances of lines within which a line still belongs to the code above it: one empty line is between them."""

EMPTY_LINE = 1.6
"""Usual distances of lines from which an empty one is between two."""

MOST_SPACES = 60

NUMBER_SIZE = 0.9
"""Size of the number of a line of code over that of the line, at most."""

SAME_SIZE = 0.1
"""Share by which sizes of lines of the same code may differ."""


class CodeWord(NamedTuple):
    """A word of code and what stands before it: spaces, line feeds."""

    before: str
    word: FlowWord
    line: FlowLine


def is_code(lines: Sequence[FlowLine], facts: Facts) -> bool:
    """Whether all words of the lines are of a fixed width, in a document whose text is not; signs may be of another font, and so may the
    small number that a line has before it."""
    if facts.text_type.family is Family.MONO or any(line.page in facts.typewritten for line in lines):
        return False
    fixed = False
    for n, line in enumerate(lines):
        if n and _is_empty_and_numbered(lines[n - 1], line):
            continue
        for word in line.words[_has_number(line) :]:
            if word.type.family is Family.MONO:
                fixed = True
            elif any(c.isalnum() for c in word.text):
                return False  # as for nearly every line, at its first word
    return fixed


def is_numbered_code(lines: Sequence[FlowLine], facts: Facts) -> bool:
    """Whether lines are code of which each has its number before it."""
    numbered = (
        _has_number(line) or (n > 0 and _is_empty_and_numbered(lines[n - 1], line)) for n, line in enumerate(lines)
    )
    return all(numbered) and is_code(lines, facts)


def _has_number(line: FlowLine) -> bool:
    """Whether a line begins with a number that is set smaller than what follows, or in another face than what is of a fixed width there, as
    lines of code are numbered."""
    first, *others = line.words
    if not others or not first.text.isdecimal():
        return False
    other_face = first.type.family is not Family.MONO and others[0].type.family is Family.MONO
    return other_face or first.type.size < NUMBER_SIZE * others[0].type.size


def _is_empty_and_numbered(last: FlowLine, line: FlowLine) -> bool:
    """Whether a line has no more than the number after that of the line above, set as that is: an empty line of code."""
    above, own = last.words[0], line.words[0]
    return (
        len(line.words) == 1
        and own.text.isdecimal()
        and above.text.isdecimal()
        and int(own.text) == int(above.text) + 1
        and abs(own.type.size - above.type.size) < SAME_SIZE * above.type.size
    )


def carries_on(lines: list[FlowLine], line: FlowLine, facts: Facts) -> bool:
    """Whether a line of code belongs to the code above it."""
    last, size = lines[-1], _size(lines)
    distance = line.baseline - last.baseline
    same = _is_empty_and_numbered(last, line) or abs(_size([line]) - size) < SAME_SIZE * size
    return same and 0.3 * size < distance <= FURTHEST * _step(lines, facts)


def _size(lines: Sequence[FlowLine]) -> float:
    """The size of lines of code, their numbers aside: that of the last one that is not empty."""
    last = next((line for line in reversed(lines) if len(line.words) > 1), lines[-1])
    return last.words[1].type.size if _has_number(last) else last.size


def code_words(lines: list[FlowLine], facts: Facts) -> Iterator[CodeWord]:
    """The words of code with the spaces and line ends between them."""
    advance = _advance(lines)
    step = _step(lines, facts)
    lefts: dict[int, float] = {}
    for line in lines:
        lefts[line.page] = min(line.x0, lefts.get(line.page, line.x0))
    for n, line in enumerate(lines):
        before = ""
        if n:
            last = lines[n - 1]
            empty = line.page == last.page and line.baseline - last.baseline > EMPTY_LINE * step
            before = "\n\n" if empty else "\n"
        before += _spaces(line.x0 - lefts[line.page], advance)
        for k, word in enumerate(line.words):
            if k:
                gap = word.box.x0 - line.words[k - 1].box.x1
                before = (_spaces(gap, advance) or " ") if word.before else ""
            yield CodeWord(before, word, line)


def _spaces(gap: float, advance: float) -> str:
    return " " * min(max(round(gap / advance), 0), MOST_SPACES)


def _advance(lines: list[FlowLine]) -> float:
    """Points that a character takes."""
    widths = [word.box.width / len(word.text) for line in lines for word in line.words if len(word.text) >= 3]
    return statistics.median(widths) if widths else USUAL_ADVANCE * lines[0].size


def _step(lines: list[FlowLine], facts: Facts) -> float:
    """The usual distance of the lines, or what is usual for the size where there is one."""
    steps = [b.baseline - a.baseline for a, b in itertools.pairwise(lines) if a.page == b.page]
    size = _size(lines[:1])
    usual = facts.leading_of(size)
    return min([usual, *(step for step in steps if step > 0.5 * size)])
