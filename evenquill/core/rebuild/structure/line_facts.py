"""What is measured of a line by itself: its look, its ends, the mark that it may begin with."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import SMALLEST_SIZE, Type
from evenquill.core.layout.flow import SHIFTED, SMALL_CAPITALS, UNDERLINED, FlowLine, FlowWord
from evenquill.core.model import Family
from evenquill.core.model.labels import is_caption
from evenquill.core.model.text import ends_broken, ends_sentence
from evenquill.core.rebuild.marks import list_mark, readings

_SECTION = re.compile(r"^(?:§\s*)?(\d{1,3}(?:\.\d{1,3})*)\.?(?=\s|$)")
_LETTERED = re.compile(r"^(?:[IVXLC]{1,6}|[A-Z])[.)]?(?=\s|$)")
_ENDS_IN_NUMBER = re.compile(r"(?:\s|\t|\.)(\d{1,4}|[ivxlc]{1,6})$")
_ENTRY = re.compile(r"^(?:\[\d{1,3}\]|\(?\d{1,3}[.)])\s")

FITS = 0.35
"""Ems that a word must have had to spare to be called one that would have fitted."""

SPACE = 0.25
"""Ems; a usual space."""

FAR = 20.0
"""Ems beyond which a distance tells no more; natural logarithms beyond which a likelihood does not."""


def limited(value: float) -> float:
    """A measure, not beyond FAR."""
    return value if -FAR < value < FAR else math.copysign(FAR, value)


class LineFacts(NamedTuple):
    """Flags are 0 or 1, shares from 0 to 1. ``mark`` is 0 for none, 1 for a bullet, 2 for a number, 3 for one of several levels;
    ``mark_x`` and ``text_x`` are where it and the text behind it begin; ``first_width`` is the width of what stands before the first
    space. ``section`` is the depth of a number as sections have it, 0 for none; ``tab_x`` where what stands behind the
    first tab begins, 0 without."""

    text: str
    x0: float
    x1: float
    baseline: float
    size: float
    bold: float
    italic: float
    mono: float
    family: Family
    font: str
    color: str | None
    capitals: float
    underlined: float
    letters: int
    words: int
    digits: float
    starts_lower: float
    starts_upper: float
    starts_digit: float
    ends_sentence: float
    ends_colon: float
    ends_comma: float
    ends_broken: float
    ends_letter: float
    tabs: int
    leader: float
    mark: int
    text_x: float
    section: int
    lettered: float
    caption: float
    ends_in_number: float
    first_width: float
    space: float
    title_case: float
    entry: float
    tab_x: float

    @property
    def width(self) -> float:
        return self.x1 - self.x0


def facts_of_line(line: FlowLine) -> LineFacts:
    """All of it, for one line."""
    words = [word for word in line.words if not word.marks & SHIFTED] or list(line.words)
    text = line.text
    unspaced = "".join(word.text for word in words)
    letters = max(len(unspaced), 1)
    main = line.main_type
    looks = {main: letters} if all(word.type is main for word in words) else _letters_of_looks(words)
    underlined = sum(len(word.text) for word in words if word.marks & UNDERLINED)
    in_capitals = any(word.marks & SMALL_CAPITALS for word in words) and line.printed.isupper()
    mark = list_mark(line)
    kind = 0
    if mark is not None:
        found = readings(mark.text)
        kind = 1 if not found else 3 if found[0].above else 2
    section = _SECTION.match(text)
    starts = text[:1]
    long_words = [word.text for word in words if len(word.text) > 3]
    capitalised = sum(word[0].isupper() for word in long_words)
    spaces = [
        after.box.x0 - before.box.x1
        for before, after in zip(line.words, line.words[1:], strict=False)
        if after.before == " "
    ]
    return LineFacts(
        text=text,
        x0=line.x0,
        x1=line.x1,
        baseline=line.baseline,
        size=max(line.size, SMALLEST_SIZE),
        bold=sum(count for look, count in looks.items() if look.bold) / letters,
        italic=sum(count for look, count in looks.items() if look.italic) / letters,
        mono=sum(count for look, count in looks.items() if look.family is Family.MONO) / letters,
        family=main.family,
        font=main.font,
        color=main.color,
        capitals=float((text.isupper() or in_capitals) and sum(map(str.isalpha, text)) > 2),
        underlined=underlined / letters,
        letters=letters,
        words=len(line.words),
        digits=sum(map(str.isdigit, unspaced)) / letters,
        starts_lower=float(starts.islower()),
        starts_upper=float(starts.isupper()),
        starts_digit=float(starts.isdigit()),
        ends_sentence=float(ends_sentence(text)),
        ends_colon=float(text.endswith(":")),
        ends_comma=float(text.endswith((",", ";"))),
        ends_broken=float(ends_broken(text)),
        ends_letter=float(text[-1:].isalpha()),
        tabs=sum(word.before == "\t" for word in line.words[1:]),
        leader=float(any(word.leader for word in line.words)),
        mark=kind,
        text_x=mark.text_x if mark is not None else line.x0,
        section=section.group(1).count(".") + 1 if section else 0,
        lettered=float(bool(_LETTERED.match(text))),
        caption=float(is_caption(text)),
        ends_in_number=float(bool(_ENDS_IN_NUMBER.search(text))),
        first_width=first_width(line),
        space=min(max(sum(spaces) / len(spaces), 0.1 * line.size), 0.6 * line.size) if spaces else 0.28 * line.size,
        title_case=capitalised / len(long_words) if long_words else 0.0,
        entry=float(bool(_ENTRY.match(text))),
        tab_x=next((word.box.x0 for word in line.words[1:] if word.before == "\t"), 0.0),
    )


def _letters_of_looks(words: Sequence[FlowWord]) -> dict[Type, int]:
    counts: dict[Type, int] = {}
    for word in words:
        counts[word.type] = counts.get(word.type, 0) + len(word.text)
    return counts


def had_room(above: FlowLine, line: FlowLine, margin: float) -> bool:
    """Whether the first word of a line would have stood in the line above: that one ends on purpose. ``margin`` is where lines end."""
    return above.x1 + (SPACE + FITS) * above.size + first_width(line) < margin


def first_width(line: FlowLine) -> float:
    """Width of what stands before the first space of a line, seen with the text upright."""
    upright = abs((line.x1 - line.x0) - line.box.width) < abs((line.x1 - line.x0) - line.box.height) + 0.01
    end = line.words[0]
    for word in line.words[1:]:
        if word.before:
            break
        end = word
    return end.box.x1 - line.words[0].box.x0 if upright else abs(end.box.y1 - line.words[0].box.y0)
