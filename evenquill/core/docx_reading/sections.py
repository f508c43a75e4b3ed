"""Sections of DOCX (ISO/IEC 29500-1, 17.6): pages, margins, columns, running heads and feet."""

from __future__ import annotations

from collections.abc import Callable

from evenquill.core.docx_reading.content import points
from evenquill.core.docx_reading.names import Element, R, W, is_on, value, whole
from evenquill.core.docx_reading.numbering import FORMATS
from evenquill.core.docx_reading.package import Relation
from evenquill.core.file_pages import page_setup
from evenquill.core.model import NumberFormat, PageSetup, Running, RunningPair, RunningPart, Section
from evenquill.core.model.ids import Ids

ReadRunning = Callable[[str], Running | None]
"""The running head or foot of a part, by its name; None for one without text."""


class SectionReader:
    """Reads sections in their order: each takes over the heads and feet of the one before that it does not name itself."""

    def __init__(self, relations: dict[str, Relation], ids: Ids, read: ReadRunning, *, even_differs: bool) -> None:
        self._relations = relations
        self._ids = ids
        self._read = read
        self._even_differs = even_differs
        self._named: dict[tuple[str, str], str] = {}
        self._parts: dict[RunningPart, RunningPart] = {}
        self.sections: list[Section] = []

    @property
    def running(self) -> tuple[RunningPart, ...]:
        return tuple(self._parts.values())

    def add(self, properties: Element | None, name: str) -> None:
        """Takes the section that ends with these properties, of which blocks know the name."""
        for side in ("header", "footer"):
            for one in properties.iterfind(f"{W}{side}Reference") if properties is not None else ():
                relation = self._relations.get(one.get(f"{R}id", ""))
                if relation is not None and not relation.external:
                    self._named[side, one.get(f"{W}type", "default")] = relation.target
        columns = max(whole(value(properties, "cols", "num"), 1), 1)
        self.sections.append(Section(name, _setup(properties), min(columns, 12), self._running(properties)))

    def _running(self, properties: Element | None) -> str:
        """The id of the part whose heads and feet the section has, "" for none."""

        def pair(kind: str) -> RunningPair:
            heads = (self._named.get((side, kind)) for side in ("header", "footer"))
            return RunningPair(*(self._read(name) if name else None for name in heads))

        numbers = properties.find(f"{W}pgNumType") if properties is not None else None
        start = numbers.get(f"{W}start") if numbers is not None else None
        form = numbers.get(f"{W}fmt", "decimal") if numbers is not None else "decimal"
        part = RunningPart(
            "",
            pair("default"),
            pair("even") if self._even_differs else None,
            pair("first") if is_on(properties, "titlePg") else None,
            whole(start) if start is not None else None,
            FORMATS.get(form, NumberFormat.DECIMAL),
        )
        if part == RunningPart(""):
            return ""
        known = self._parts.get(part)
        if known is None:
            known = self._parts[part] = RunningPart(
                self._ids.new(), part.usual, part.even, part.first, part.start, part.format
            )
        return known.id


def _setup(properties: Element | None) -> PageSetup:
    def margin(side: str) -> float | None:
        said = value(properties, "pgMar", side)
        return points(said) if said is not None else None

    return page_setup(points(value(properties, "pgSz", "w")), points(value(properties, "pgSz", "h")), margin)
