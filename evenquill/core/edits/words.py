"""Words of a row changed, and word spots after a change: what was not touched keeps its place, what was keeps that of what it replaces."""

from __future__ import annotations

import difflib
import re

from msgspec.structs import replace

from evenquill.core.model import Text, TextBlock, WordSpot
from evenquill.core.model.inline import OBJECT, Inline, cut, joined

_AROUND = re.compile(r"^[^\w]+|[^\w]+$")


def core_of(word: str) -> str:
    """A word without the signs around it."""
    return _AROUND.sub("", word)


def with_text(block: TextBlock, start: int, end: int, text: str) -> TextBlock:
    """The block with ``text`` in the place of the characters from ``start`` up to ``end``, in the look of the first of them."""
    inside = cut(block.content, start, end)
    look: Inline = inside[0] if inside else Text("")
    runs = joined((*cut(block.content, 0, start), look.like(text), *cut(block.content, end)))
    after = block.text[:start] + text + block.text[end:]
    return replace(block, content=runs, words=moved_words(block.words, block.text, after))


def moved_words(words: tuple[WordSpot, ...], before: str, after: str) -> tuple[WordSpot, ...]:
    """Word spots for the text ``after``, given those for the text ``before``."""
    if before == after:
        return words
    start, old_end, new_end = changed_range(before, after)
    shift = len(after) - len(before)
    out = []
    for word in words:
        if word.end <= start:
            # Letters typed at the end of a word are part of it.
            grown = word.end if word.end < start else _end_of_word(after, start, new_end)
            out.append(word if grown == word.end else word.changed(word.start, grown))
        elif word.start >= old_end:
            grown = word.start + shift if word.start > old_end else _start_of_word(after, start, new_end)
            same = grown == word.start + shift
            moved = word._replace(start=grown, end=word.end + shift)
            out.append(moved if same else word.changed(moved.start, moved.end))
        else:
            left = min(word.start, start)
            right = word.end + shift if word.end >= old_end else new_end
            if left < right:
                out.append(word.changed(left, right))
    return tuple(out)


def changed_range(before: str, after: str) -> tuple[int, int, int]:
    """Where two texts begin to differ, and where that ends in the first and in the second."""
    start = _common_start(before, after)
    end = _common_end(before[start:], after[start:])
    return start, len(before) - end, len(after) - end


def _end_of_word(text: str, at: int, limit: int) -> int:
    while at < limit and not text[at].isspace():
        at += 1
    return at


def _start_of_word(text: str, limit: int, at: int) -> int:
    while at > limit and not text[at - 1].isspace():
        at -= 1
    return at


def _common_start(a: str, b: str) -> int:
    n = 0
    for x, y in zip(a, b, strict=False):
        if x != y:
            break
        n += 1
    return n


def _common_end(a: str, b: str) -> int:
    return _common_start(a[::-1], b[::-1])


_TOKEN = re.compile(rf"\s+|[^\s{OBJECT}]+")


def read_again_text(block: TextBlock, text: str, words: tuple[WordSpot, ...]) -> TextBlock:
    """The block with the text and the words of a new reading.

    What was read as before keeps its look; what was read otherwise takes that of what it replaces. Marks of notes and fields, which no
    reading tells, stay behind the word that they stood behind.
    """
    old = [(match.start(), match.group()) for match in _TOKEN.finditer(block.text)]
    new = [(match.start(), match.group()) for match in _TOKEN.finditer(text)]
    content: list[Inline] = []
    moved: dict[int, int] = {}
    length = 0

    def add(*items: Inline) -> None:
        nonlocal length
        content.extend(items)
        length += sum(len(item.text) for item in items)

    def add_objects(number: int) -> None:
        """The elements that are not text between one old token and the next."""
        start = old[number][0] + len(old[number][1]) if number >= 0 else 0
        end = old[number + 1][0] if number + 1 < len(old) else len(block.text)
        add(*cut(block.content, start, end))

    def look_at(number: int) -> Inline:
        place = old[min(number, len(old) - 1)][0] if old else 0
        found = cut(block.content, place, place + 1)
        return found[0] if found else Text("")

    add_objects(-1)
    matcher = difflib.SequenceMatcher(None, [token for _, token in old], [token for _, token in new], autojunk=False)
    for _, a0, a1, b0, b1 in matcher.get_opcodes():
        same = a1 - a0 == b1 - b0
        for n in range(b0, b1):
            moved[new[n][0]] = length
            add(look_at(a0 + (n - b0) if same else a0).like(new[n][1]))
            if same:
                add_objects(a0 + n - b0)
        if not same:
            for n in range(a0, a1):
                add_objects(n)
    kept = joined(content)
    spots = tuple(
        word._replace(start=moved[word.start], end=moved[word.start] + word.end - word.start)
        for word in words
        if word.start in moved
    )
    return replace(block, content=kept, words=spots, spots=block.spots)
