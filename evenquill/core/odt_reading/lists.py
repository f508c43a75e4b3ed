"""Lists and outlines of OpenDocument (part 3, 5.3 and 19.10), as the marks of items."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.model import NumberFormat, Numbering
from evenquill.core.model.numerals import written
from evenquill.core.odt_reading.names import STYLE, TEXT, Element, whole

_FORMATS = {
    "1": NumberFormat.DECIMAL, "a": NumberFormat.LOWER_LETTER, "A": NumberFormat.UPPER_LETTER, "i": NumberFormat.LOWER_ROMAN,
    "I": NumberFormat.UPPER_ROMAN,
}  # fmt: skip


class _Level(NamedTuple):
    """A level of a list: how it is counted (None for not at all), what stands around the number, from which number, and how many levels
    are shown."""

    format: NumberFormat | None
    before: str
    after: str
    start: int
    shown: int


class Counted(NamedTuple):
    """How a paragraph is numbered: as the mark of an item, and as text, for kinds of rows that have no mark of their own."""

    numbering: Numbering
    label: str


_Counts = dict[int, int]


class ListSheet:
    """The lists of a file, which count as their items are read in order."""

    def __init__(self, *roots: Element) -> None:
        self._levels: dict[str, dict[int, _Level]] = {}
        self._counts: dict[str, _Counts] = {}
        self._outline: dict[int, _Level] = {}
        self._outline_counts: _Counts = {}
        for root in roots:
            for style in root.iter(f"{TEXT}list-style"):
                self._levels.setdefault(style.get(f"{STYLE}name", ""), _levels(style))
            for style in root.iter(f"{TEXT}outline-style"):
                self._outline = self._outline or _levels(style)

    def begin(self, style: str, *, goes_on: bool) -> None:
        """A list of a style begins, or goes on from the last one of its style."""
        if not goes_on:
            self._counts[style] = {}

    def item(self, style: str, depth: int, start: int | None) -> Counted:
        """The next item of a list at a depth from 0; ``start`` is the number that it says itself."""
        levels = self._levels.get(style, {})
        own = levels.get(depth, _Level(NumberFormat.BULLET, "•", "", 1, 1))
        return _counted(levels, own, self._counts.setdefault(style, {}), depth, start)

    def heading(self, level: int) -> str:
        """What is counted before the next heading of a level from 1, nothing where headings have no numbers."""
        own = self._outline.get(level - 1)
        if own is None or own.format is None:
            return ""
        return _counted(self._outline, own, self._outline_counts, level - 1, None).label


def _counted(levels: dict[int, _Level], own: _Level, counts: _Counts, depth: int, start: int | None) -> Counted:
    begins = depth not in counts or start is not None
    counts[depth] = (own.start if start is None else start) if begins else counts[depth] + 1
    for deeper in [one for one in counts if one > depth]:
        del counts[deeper]
    if own.format is NumberFormat.BULLET or own.format is None:
        sign = own.before if own.format is not None else ""
        return Counted(Numbering(NumberFormat.BULLET, sign or "•"), sign)
    first = max(depth - own.shown + 1, 0)
    numbers = [
        written(counts.get(level, known.start), known.format)
        for level in range(first, depth + 1)
        if (known := levels.get(level)) is not None
        and known.format is not None
        and known.format is not NumberFormat.BULLET
    ]
    pattern = own.before + ".".join("%" for _ in numbers) + own.after
    numbering = Numbering(own.format, pattern, counts[depth] if begins else None)
    return Counted(numbering, f"{own.before}{'.'.join(numbers)}{own.after}")


def _levels(style: Element) -> dict[int, _Level]:
    out: dict[int, _Level] = {}
    for one in style:
        if not isinstance(one.tag, str):
            continue
        level = whole(one.get(f"{TEXT}level"), 1) - 1
        before, after = one.get(f"{STYLE}num-prefix", ""), one.get(f"{STYLE}num-suffix", "")
        if one.tag in (f"{TEXT}list-level-style-number", f"{TEXT}outline-level-style"):
            said = one.get(f"{STYLE}num-format", "")
            form = _FORMATS.get(said, NumberFormat.DECIMAL) if said else None
            shown = max(whole(one.get(f"{TEXT}display-levels"), 1), 1)
            out[level] = _Level(form, before, after, whole(one.get(f"{TEXT}start-value"), 1), shown)
        elif one.tag == f"{TEXT}list-level-style-bullet":
            out[level] = _Level(NumberFormat.BULLET, one.get(f"{TEXT}bullet-char", "•"), "", 1, 1)
        elif one.tag == f"{TEXT}list-level-style-image":
            out[level] = _Level(NumberFormat.BULLET, "•", "", 1, 1)
    return out
