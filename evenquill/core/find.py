"""Finding text in all of a document: paragraphs, tables, notes, running heads and feet."""

from __future__ import annotations

import math
import re
import time
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import msgspec
import regex

from evenquill.core.errors import EditError
from evenquill.core.model import Box, Document, Inline, Marks, TextBlock, texts_of, union
from evenquill.core.model.inline import OBJECT, plain, spans
from evenquill.core.model.sections import Running, RunningPart

LONGEST_PATTERN = 500
"""Characters of what is looked for."""

MOST_REPEATS = 10_000
"""Product of the counts of a pattern (``{3}``, ``{2,5}``): counts within counts take memory without an end when they are understood."""

SECONDS = 2.0
"""Time that looking through a document may take; a pattern can be written so that it takes for ever."""

AROUND = 40
"""Characters before and behind a hit that are shown with it."""

RUNNING = "running/"
"""Begins the name of a running head or foot among the places of a document."""

_COUNT = re.compile(r"\{(\d*),?(\d*)\}")

_ALIKE = {"'": "['’‘]", '"': '["“”„]', "-": "[-\u2010\u2011]", " ": r"\s"}


class Search(msgspec.Struct, frozen=True, omit_defaults=True):
    """What is looked for: a text, or a ``pattern``, in ``whole_words`` and in the same ``case`` if that is wanted, in paragraphs of a
    ``style`` (its id) and in text that has all ``marks``. Without a text it is whatever has that style and these marks.

    In a text that is no pattern, a space stands for any white space, straight quotes for curly ones, a hyphen for one that does not
    break.
    """

    text: str = ""
    pattern: bool = False
    whole_words: bool = False
    case: bool = False
    style: str = ""
    marks: Marks = Marks.NONE


class Place(NamedTuple):
    """Text that is looked through: the id of its block, or the name of a running head or foot; its row (-1 for these)."""

    name: str
    row: int
    content: tuple[Inline, ...]
    style: str
    block: TextBlock | None


class Hit(msgspec.Struct, frozen=True):
    """Something found: the name of its place with its row (-1 for running heads and feet), the characters from ``start`` up to ``end``,
    what they say, what stands ``before`` and ``behind`` them, and what a replacement makes of them. ``page`` and ``box`` say where it
    stands on the source, page 0 where that is not known."""

    place: str
    row: int
    start: int
    end: int
    text: str
    before: str
    behind: str
    becomes: str = ""
    page: int = 0
    box: Box | None = None


def hits(document: Document, search: Search, becomes: str | None = None) -> Iterator[Hit]:
    """What is found, in the order of the text; ``becomes`` is what is to stand there instead, where it is to be replaced.

    What is set aside is left out, and so are hits that an equation, a picture or a mark of a note lies within. Raises EditError where the
    search is not understood or takes too long.
    """
    expression = compiled(search)
    end = time.monotonic() + SECONDS
    for place in places_of(document):
        if search.style and place.style != search.style:
            continue
        text = plain(place.content)
        for start, stop, after in _found(expression, text, place, search, becomes, end):
            if start < stop and OBJECT not in text[start:stop]:
                yield hit_at(place, text, start, stop, after)


def hit_at(place: Place, text: str, start: int, end: int, becomes: str) -> Hit:
    """The characters from ``start`` up to ``end`` of a place whose plain text is given, as a hit."""
    page, box = _where(place.block, start, end)
    return Hit(
        place.name,
        place.row,
        start,
        end,
        text[start:end],
        text[max(start - AROUND, 0) : start].replace(OBJECT, "…"),
        text[end : end + AROUND].replace(OBJECT, "…"),
        becomes,
        page,
        box,
    )


def compiled(search: Search) -> regex.Pattern[str] | None:
    """The expression that is looked for, None where it is a style or marks alone. Raises EditError where it is not understood."""
    if len(search.text) > LONGEST_PATTERN:
        raise EditError(f"At most {LONGEST_PATTERN} characters can be looked for.")
    if not search.text:
        if not search.style and not search.marks:
            raise EditError("Say what is to be found.")
        return None
    if search.pattern and _repeats(search.text) > MOST_REPEATS:
        raise EditError("This pattern repeats too much. Make it simpler.")
    written = search.text if search.pattern else "".join(_ALIKE.get(c) or regex.escape(c) for c in search.text)
    if search.whole_words:
        written = rf"(?<!\w)(?:{written})(?!\w)"
    try:
        return regex.compile(written, 0 if search.case else regex.IGNORECASE)
    except (regex.error, OverflowError, RecursionError, MemoryError) as error:
        raise EditError(f"The pattern is not understood: {error}.") from None


def _repeats(pattern: str) -> int:
    return math.prod(max(int(least or 1), int(most or 1), 1) for least, most in _COUNT.findall(pattern))


def _found(
    expression: regex.Pattern[str] | None, text: str, place: Place, search: Search, becomes: str | None, end: float
) -> Iterator[tuple[int, int, str]]:
    if expression is None:
        for start, stop in _stretches(place.content, search.marks):
            yield start, stop, becomes or ""
        return
    try:
        for match in expression.finditer(text, timeout=max(end - time.monotonic(), 0.001), concurrent=True):
            if not search.marks or _has_marks(place.content, match.start(), match.end(), search.marks):
                yield match.start(), match.end(), _expanded(match, becomes, search)
    except TimeoutError:
        raise EditError("Looking for this pattern takes too long. Make it simpler.") from None


def _expanded(match: regex.Match[str], becomes: str | None, search: Search) -> str:
    if becomes is None or not search.pattern:
        return becomes or ""
    try:
        return match.expand(becomes)
    except (regex.error, IndexError) as error:
        raise EditError(f"What it becomes is not understood: {error}.") from None


def _stretches(content: Sequence[Inline], marks: Marks) -> Iterator[tuple[int, int]]:
    """The longest stretches of text with all of some marks."""
    start = at = 0
    for at, item in spans(content):
        if marks & item.marks != marks or item.text == OBJECT:
            yield start, at
            start = at + len(item.text)
    yield start, len(plain(content))


def _has_marks(content: Sequence[Inline], start: int, end: int, marks: Marks) -> bool:
    return all(marks & item.marks == marks for at, item in spans(content) if at < end and start < at + len(item.text))


def _where(block: TextBlock | None, start: int, end: int) -> tuple[int, Box | None]:
    """The page that a hit begins on, and the box of its words there."""
    if block is None:
        return 0, None
    words = [word for word in block.words if word.start < end and start < word.end]
    if not words:
        return (block.spots[0].page, block.spots[0].box) if block.spots else (0, None)
    return words[0].page, union(word.box for word in words if word.page == words[0].page)


def places_of(document: Document) -> Iterator[Place]:
    """All that has text and is not set aside: rows, cells and notes in their order, then running heads and feet."""
    for row, block in enumerate(document.blocks):
        if not block.excluded:
            for text in texts_of(block):
                yield Place(text.id, row, text.content, text.style, text)
    for part in document.running:
        for name, running in running_of(part):
            yield Place(name, -1, running.content, running.style, None)


def running_of(part: RunningPart) -> Iterator[tuple[str, Running]]:
    """The running heads and feet of a part by their names."""
    for sort in ("usual", "even", "first"):
        pair = getattr(part, sort)
        for end in ("header", "footer"):
            running = getattr(pair, end, None)
            if running is not None:
                yield f"{RUNNING}{part.id}/{sort}/{end}", running
