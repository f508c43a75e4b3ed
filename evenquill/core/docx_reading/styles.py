"""Styles of a DOCX file as those of a document, and which kind of row each stands for."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.docx_reading.names import Element, W, is_on, value, whole
from evenquill.core.docx_reading.paragraph_lines import paragraph_sides
from evenquill.core.docx_styles import StyleSheet
from evenquill.core.file_styles import UsedStyles, kind_of_rows
from evenquill.core.model import Marks, ResolvedStyle, Role, Sides
from evenquill.core.model.styles import BODY

RUN_IN = "RunInHeading"


class Look(NamedTuple):
    """A paragraph style: how it looks, what rows of it are, how it is numbered by itself (number, level), and the ``sides`` of its
    paragraphs that have a line."""

    style: ResolvedStyle
    role: Role
    level: int
    numbering: tuple[int, int] | None
    sides: Sides = Sides.NONE


class CharacterLook(NamedTuple):
    """What a character style says of bold and italic; None for nothing."""

    bold: bool | None
    italic: bool | None
    marks: Marks


class Styles:
    """The styles of a file by their ids; ``used`` are those that rows have, among them those of direct formatting."""

    def __init__(self, sheet: StyleSheet) -> None:
        self._looks = {name: _look(name, sheet) for name in sheet.looks}
        self._usual = sheet.default
        self._characters = {name: _character(one) for name, one in sheet.characters.items()}
        self.used = UsedStyles()

    def of(self, name: str | None) -> Look:
        """The style with an id, the usual one where there is none."""
        known = self._looks.get(name or "") or self._looks.get(self._usual)
        return known or Look(BODY, Role.PARAGRAPH, 0, None)

    def character(self, name: str | None) -> CharacterLook:
        return self._characters.get(name or "", CharacterLook(None, None, Marks.NONE))


def _look(name: str, sheet: StyleSheet) -> Look:
    style = sheet.looks[name]
    role, level = kind_of_rows(style)
    sides = Sides.NONE
    for one in reversed(sheet.chain(name)):
        sides = paragraph_sides(one.find(f"{W}pPr"), sides)
    return Look(style, role, level, _numbering(name, sheet), sides)


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
