"""Words of a row changed, and word spots after a change: what was not touched keeps its place, what was keeps that of what it replaces."""

from __future__ import annotations

import re

from msgspec.structs import replace

from evenquill.core.model import Run, TextBlock, WordSpot
from evenquill.core.model.text import cut, joined

_AROUND = re.compile(r"^[^\w]+|[^\w]+$")


def core_of(word: str) -> str:
    """A word without the signs around it."""
    return _AROUND.sub("", word)


def with_text(block: TextBlock, start: int, end: int, text: str) -> TextBlock:
    """The block with ``text`` in the place of the characters from ``start`` up to ``end``, in the look of the first of them."""
    inside = cut(block.runs, start, end)
    look = inside[0] if inside else Run("")
    runs = joined((*cut(block.runs, 0, start), look.like(text), *cut(block.runs, end)))
    after = block.text[:start] + text + block.text[end:]
    return replace(block, runs=runs, words=moved_words(block.words, block.text, after))


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
