"""A three-way merge of the text of a block, token by token, with looks and places on the source (diff3: Khanna, Kunal and Pierce 2007)."""

from __future__ import annotations

import difflib
import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import Equation, Field, Inline, InlinePicture, NoteRef, TextBlock, WordSpot
from evenquill.core.model.equation import text_of
from evenquill.core.model.inline import OBJECT, cut, joined, lettering_of

_TOKEN = re.compile(rf"\s+|{OBJECT}|[^\s{OBJECT}]+")


class Token(NamedTuple):
    """A word, white space, or an element that is no text: ``key`` tells what it says, ``start`` where it stands in its block."""

    key: str
    start: int
    end: int
    items: tuple[Inline, ...]

    @property
    def look(self) -> tuple[object, ...]:
        """How it is set, character by character."""
        return tuple((item.marks, item.color, item.link, lettering_of(item)) for item in self.items for _ in item.text)


class Conflict(NamedTuple):
    """The clerk made ``mine`` of what now reads ``theirs``."""

    mine: str
    theirs: str


class Merged(NamedTuple):
    """Content and places of words after a merge, and where both sides had changed the same words: the clerk's stand."""

    block: TextBlock
    conflicts: tuple[Conflict, ...]


class _Chunk(NamedTuple):
    """Stretches of tokens that belong together; ``stable`` if all three say the same there."""

    base: Sequence[Token]
    mine: Sequence[Token]
    theirs: Sequence[Token]
    stable: bool


def merged_text(base: TextBlock, mine: TextBlock, theirs: TextBlock) -> Merged:
    """``theirs`` with the changes that made ``mine`` of ``base``; everything but content and words is that of ``theirs``."""
    content: list[Inline] = []
    words: list[WordSpot] = []
    conflicts: list[Conflict] = []
    length = 0

    def take(block: TextBlock, tokens: Sequence[Token], looks: Sequence[Token] | None = None) -> None:
        nonlocal length
        if not tokens:
            return
        start, end = tokens[0].start, tokens[-1].end
        words.extend(
            word._replace(start=word.start - start + length, end=min(word.end, end) - start + length)
            for word in block.words
            if start <= word.start < end
        )
        for n, token in enumerate(tokens):
            content.extend(looks[n].items if looks is not None else token.items)
        length += end - start

    for chunk in _chunks(_tokens(base), _tokens(mine), _tokens(theirs)):
        if chunk.stable:
            restyled = [one.look for one in chunk.mine] != [one.look for one in chunk.base]
            take(theirs, chunk.theirs, chunk.mine if restyled else None)
            continue
        base_said, mine_said, theirs_said = (_keys(side) for side in (chunk.base, chunk.mine, chunk.theirs))
        if mine_said == base_said:
            take(theirs, chunk.theirs)
            continue
        take(mine, chunk.mine)
        if theirs_said not in (base_said, mine_said):
            conflicts.append(Conflict(_said(chunk.mine), _said(chunk.theirs)))
    return Merged(replace(theirs, content=joined(content), words=tuple(words)), tuple(conflicts))


def _tokens(block: TextBlock) -> list[Token]:
    out = []
    for match in _TOKEN.finditer(block.text):
        items = cut(block.content, *match.span())
        key = match.group()
        if key == OBJECT:
            (item,) = items
            key = f"{OBJECT}{_object_name(item)}"
        out.append(Token(" " if key.isspace() and key == " " * len(key) else key, *match.span(), items))
    return out


def _object_name(item: Inline) -> str:
    """What tells an element that is no text from another one."""
    match item:
        case NoteRef():
            return item.note
        case Field():
            return item.kind.value
        case InlinePicture():
            return item.picture
        case Equation():
            return text_of(item.tree)
    return ""


def _keys(tokens: Sequence[Token]) -> list[str]:
    return [token.key for token in tokens]


def _said(tokens: Sequence[Token]) -> str:
    return "".join(item.text for token in tokens for item in token.items).replace(OBJECT, "").strip()


def _chunks(base: list[Token], mine: list[Token], theirs: list[Token]) -> Iterator[_Chunk]:
    """The three sides cut at what all of them have, in order."""
    to_mine, to_theirs = _matches(base, mine), _matches(base, theirs)
    at_base = at_mine = at_theirs = 0
    for n in range(len(base) + 1):
        end = n == len(base)
        m = len(mine) if end else to_mine.get(n, -1)
        t = len(theirs) if end else to_theirs.get(n, -1)
        if m < at_mine or t < at_theirs:
            continue
        if n > at_base or m > at_mine or t > at_theirs:
            yield _Chunk(base[at_base:n], mine[at_mine:m], theirs[at_theirs:t], False)
        if not end:
            yield _Chunk(base[n : n + 1], mine[m : m + 1], theirs[t : t + 1], True)
        at_base, at_mine, at_theirs = n + 1, m + 1, t + 1


def _matches(base: list[Token], other: list[Token]) -> dict[int, int]:
    """For tokens of the base the same ones of another side."""
    matcher = difflib.SequenceMatcher(None, _keys(base), _keys(other), autojunk=False)
    return {a + n: b + n for a, b, size in matcher.get_matching_blocks() for n in range(size)}
