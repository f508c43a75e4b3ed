"""Pages of OpenDocument (part 3, 16.5 and 16.9): sizes, margins, running heads and feet, columns."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from evenquill.core.file_pages import page_setup
from evenquill.core.model import NumberFormat, PageSetup, Running, RunningPair, RunningPart, Section
from evenquill.core.model.ids import Ids
from evenquill.core.model.sections import USUAL_PAGE
from evenquill.core.odt_reading.names import FO, STYLE, Element, points

STANDARD = "Standard"

_FORMATS = {
    "1": NumberFormat.DECIMAL, "a": NumberFormat.LOWER_LETTER, "A": NumberFormat.UPPER_LETTER, "i": NumberFormat.LOWER_ROMAN,
    "I": NumberFormat.UPPER_ROMAN,
}  # fmt: skip

ReadRunning = Callable[[Element], Running | None]
"""What runs at the head or the foot, of its element; None for one without text."""


class SectionReader:
    """Makes a section for each stretch of paragraphs that is on one sort of page in one number of columns."""

    def __init__(self, styles: Element, ids: Ids, read: ReadRunning) -> None:
        self._masters = {one.get(f"{STYLE}name", ""): one for one in styles.iter(f"{STYLE}master-page")}
        self._layouts = {one.get(f"{STYLE}name", ""): one for one in styles.iter(f"{STYLE}page-layout")}
        self._ids = ids
        self._read = read
        self._parts: dict[RunningPart, RunningPart] = {}
        self._master = STANDARD if STANDARD in self._masters else next(iter(self._masters), "")
        self._number: int | None = None
        self._columns = 1
        self.sections: list[Section] = []

    @property
    def running(self) -> tuple[RunningPart, ...]:
        return tuple(self._parts.values())

    @property
    def current(self) -> str:
        """The id of the section that rows are in now."""
        if not self.sections:
            self._add()
        return self.sections[-1].id

    def begin_pages(self, master: str, number: int | None) -> None:
        """Rows from here on are on pages of a sort, the first of which may have a ``number``."""
        if master in self._masters:
            self._master, self._number = master, number
            self._add()

    def begin_columns(self, columns: int) -> None:
        """Rows from here on stand in so many columns."""
        if columns != self._columns:
            self._columns = columns
            self._add()

    def _add(self) -> None:
        master = self._masters.get(self._master)
        follows = self._masters.get(master.get(f"{STYLE}next-style-name", "")) if master is not None else None
        layout = self._layouts.get(master.get(f"{STYLE}page-layout-name", "")) if master is not None else None
        properties = layout.find(f"{STYLE}page-layout-properties") if layout is not None else None
        section = Section(self._ids.new(), _setup(properties), self._columns, self._part(master, follows, properties))
        self.sections.append(section)
        if follows is not None:
            self._master = follows.get(f"{STYLE}name", "")
        self._number = None

    def _part(self, master: Element | None, follows: Element | None, properties: Element | None) -> str:
        """The id of the part whose heads and feet pages of a sort have, "" for none."""
        if master is None:
            return ""
        usual = follows if follows is not None else master

        def pair(of: Element, kind: str) -> RunningPair:
            sides = (of.find(f"{STYLE}{side}{kind}") for side in ("header", "footer"))
            return RunningPair(*(self._read(one) if one is not None and _shown(one) else None for one in sides))

        def has(of: Element, kind: str) -> bool:
            return any(of.find(f"{STYLE}{side}{kind}") is not None for side in ("header", "footer"))

        first = pair(master, "") if follows is not None and follows is not master else None
        if first is None and has(usual, "-first"):
            first = pair(usual, "-first")
        form = properties.get(f"{STYLE}num-format", "1") if properties is not None else "1"
        part = RunningPart(
            "",
            pair(usual, ""),
            pair(usual, "-left") if has(usual, "-left") else None,
            first,
            self._number,
            _FORMATS.get(form, NumberFormat.DECIMAL),
        )
        if part == RunningPart(""):
            return ""
        known = self._parts.get(part)
        if known is None:
            known = self._parts[part] = replace(part, id=self._ids.new())
        return known.id


def _shown(element: Element) -> bool:
    return element.get(f"{STYLE}display", "true") != "false"


def _setup(properties: Element | None) -> PageSetup:
    if properties is None:
        return USUAL_PAGE

    def margin(side: str) -> float | None:
        said = points(properties.get(f"{FO}margin-{side}"))
        return points(properties.get(f"{FO}margin")) if said is None else said

    width, height = (points(properties.get(f"{FO}page-{side}")) or 0.0 for side in ("width", "height"))
    return page_setup(width, height, margin)
