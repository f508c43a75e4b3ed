"""Running heads and feet as parts of the package (ECMA-376 part 1, 17.10), and the references to them."""

from __future__ import annotations

from typing import NamedTuple

import docx

from evenquill.core.model import Document, Running, RunningPair, RunningPart
from evenquill.core.writers.docx.paragraphs import write_content, write_lines, write_tabs
from evenquill.core.writers.docx.styles import style_id
from evenquill.core.writers.docx.xml import Element, R, child, element

SIDES = ("header", "footer")


class Reference(NamedTuple):
    """A reference from a section: ``side`` is header or footer, ``kind`` default, even or first."""

    side: str
    kind: str
    relationship: str

    def element(self) -> Element:
        made = element(f"{self.side}Reference", type=self.kind)
        made.set(f"{{{R}}}id", self.relationship)
        return made


class RunningParts:
    """Makes each head and foot once, empty ones too: a section that names none would take over those of the section before it."""

    def __init__(self, package: docx.document.Document, document: Document) -> None:
        self._package = package
        self._document = document
        self._made: dict[tuple[str, Running | None], str] = {}
        self._parts = document.running
        pairs = [pair for part in self._parts for pair in (part.usual, part.even, part.first) if pair]
        self._used = [side for side in SIDES if any(getattr(pair, side) for pair in pairs)]
        self.alternates = any(part.even for part in self._parts)
        if self.alternates:
            package.settings.odd_and_even_pages_header_footer = True

    def references(self, part: RunningPart | None) -> list[Reference]:
        if part is None:
            return []
        out = self._of(part.usual, "default")
        if self.alternates:
            out += self._of(part.even or part.usual, "even")
        if part.first:
            out += self._of(part.first, "first")
        return out

    def _of(self, pair: RunningPair, kind: str) -> list[Reference]:
        return [Reference(side, kind, self._relationship(side, getattr(pair, side))) for side in self._used]

    def _relationship(self, side: str, running: Running | None) -> str:
        known = self._made.get((side, running))
        if known is None:
            package = self._package.part
            part, known = package.add_header_part() if side == "header" else package.add_footer_part()
            _fill(part.element, running, self._document)
            self._made[side, running] = known
        return known


def _fill(root: Element, running: Running | None, document: Document) -> None:
    for old in list(root):
        root.remove(old)
    made = child(root, "p")
    if running is None:
        return
    properties = child(made, "pPr")
    style = document.style(running.style)
    child(properties, "pStyle", val=style_id(style.name))
    write_lines(properties, running.sides)
    write_tabs(properties, running.stops)
    write_content(made, running.content, style, None, {})
