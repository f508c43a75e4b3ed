"""Styles of a DOCX file as those of a document, and which kind of row each stands for."""

from __future__ import annotations

import re
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.docx_reading.names import Element, W, is_on, value, whole
from evenquill.core.docx_styles import StyleSheet
from evenquill.core.model import Marks, ParagraphStyle, ResolvedStyle, Role
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
RUN_IN = "RunInHeading"


class Look(NamedTuple):
    """A paragraph style: how it looks, what rows of it are, and how it is numbered by itself (number, level)."""

    style: ResolvedStyle
    role: Role
    level: int
    numbering: tuple[int, int] | None


class CharacterLook(NamedTuple):
    """What a character style says of bold and italic; None for nothing."""

    bold: bool | None
    italic: bool | None
    marks: Marks


class Styles:
    """The styles of a file by their ids; those of direct formatting are added as they are met."""

    def __init__(self, sheet: StyleSheet) -> None:
        self._looks = {name: _look(name, sheet) for name in sheet.looks}
        self._usual = sheet.default
        self._characters = {name: _character(one) for name, one in sheet.characters.items()}
        self._used: dict[str, ResolvedStyle] = {}
        self._derived: dict[ResolvedStyle, str] = {}

    def of(self, name: str | None) -> Look:
        """The style with an id, the usual one where there is none."""
        known = self._looks.get(name or "") or self._looks.get(self._usual)
        return known or Look(BODY, Role.PARAGRAPH, 0, None)

    def character(self, name: str | None) -> CharacterLook:
        return self._characters.get(name or "", CharacterLook(None, None, Marks.NONE))

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


def _look(name: str, sheet: StyleSheet) -> Look:
    style = sheet.looks[name]
    role, level = _role(style)
    return Look(style, role, level, _numbering(name, sheet))


def _role(style: ResolvedStyle) -> tuple[Role, int]:
    if style.outline:
        return Role.HEADING, style.outline
    called = style.name.lower()
    if found := _LEVELLED.match(called):
        return Role.CONTENTS, int(found[2])
    bare = _NUMBER.sub("", called)
    for pattern, role, level in _ROLES:
        if re.fullmatch(pattern, bare):
            return role, level
    return Role.PARAGRAPH, 0


def _numbering(name: str, sheet: StyleSheet) -> tuple[int, int] | None:
    for one in sheet.chain(name):
        properties = one.find(f"{W}pPr/{W}numPr")
        if properties is not None:
            number = whole(value(properties, "numId"))
            return (number, whole(value(properties, "ilvl"))) if number else None
    return None


def _character(style: Element) -> CharacterLook:
    letters = style.find(f"{W}rPr")
    bold, italic = (is_on(letters, name) for name in ("b", "i"))
    marks = Marks.RUN_IN if style.get(f"{W}styleId") == RUN_IN else Marks.NONE
    return CharacterLook(None if marks else bold, None if marks else italic, marks)
