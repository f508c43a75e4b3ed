"""Styles of word-processor files as those of a document, and what rows of each are."""

from __future__ import annotations

import re
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import ParagraphStyle, ResolvedStyle, Role
from evenquill.core.model.styles import BODY, style_of

_ROLES = (
    (r"title", Role.HEADING, 1),
    (r"list (item|bullet|number|paragraph|continue)\b.*", Role.LIST_ITEM, 0),
    (r"(foot)?note text|footnote.*", Role.NOTE, 0),
    (r"endnote.*", Role.ENDNOTE, 0),
    (r"caption|.*\bcaption", Role.CAPTION, 0),
    (r"(block |intense )?quot(e|ation)s?|block text", Role.QUOTE, 0),
    (r"verse|poem.*", Role.VERSE, 0),
    (r"(source )?code( block)?|html preformatted|preformatted text|plain text", Role.CODE, 0),
    (r"definition term", Role.TERM, 0),
    (r"definition", Role.DEFINITION, 0),
    (r"equation", Role.EQUATION, 0),
)  # fmt: skip
"""By the names of styles, without numbers behind them, what rows of theirs are."""

_LEVELLED = re.compile(r"(contents|toc) (\d)")
_NUMBER = re.compile(r"(, depth \d+)?( \d+)?$")


class RowKind(NamedTuple):
    """What a row is, and its level."""

    role: Role
    level: int


def kind_of_rows(style: ResolvedStyle) -> RowKind:
    """What rows of a style are, by its outline level or its name."""
    if style.outline:
        return RowKind(Role.HEADING, style.outline)
    called = style.name.lower()
    if found := _LEVELLED.match(called):
        return RowKind(Role.CONTENTS, int(found[2]))
    bare = _NUMBER.sub("", called)
    for pattern, role, level in _ROLES:
        if re.fullmatch(pattern, bare):
            return RowKind(role, level)
    return RowKind(Role.PARAGRAPH, 0)


class UsedStyles:
    """The styles that rows have; those of direct formatting are added as they are met."""

    def __init__(self) -> None:
        self._used: dict[str, ResolvedStyle] = {}
        self._derived: dict[ResolvedStyle, str] = {}

    def use(self, style: ResolvedStyle) -> str:
        """The id under which rows name a look; looks that a style of that name does not have become styles of their own."""
        known = self._used.setdefault(style.id, style)
        if known == style:
            return style.id
        found = self._derived.get(style)
        if found is None:
            n = 2
            while f"{style.id} {n}" in self._used:
                n += 1
            found = f"{style.id} {n}"
            self._used[found] = replace(style, id=found, name=found)
            self._derived[style] = found
        return found

    def made(self, first: str) -> tuple[ParagraphStyle, ...]:
        """The styles in use, that of the text first; the others are based on it."""
        body = self._used.get(first, BODY)
        others = [style for name, style in self._used.items() if name != body.id]
        return (style_of(body), *(style_of(style, body) for style in others))
