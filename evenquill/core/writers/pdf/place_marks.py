"""Marks that are set along with a document and tell, once its pages are made, where they have come to stand."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Block, PictureBlock, Tab, TextBlock, texts_of
from evenquill.core.writers.pdf.markup import string

MARK, LABEL = "mark", "places"
"""What marks are called in the markup, and what has their places."""

ASCENT = 0.8
"""Share of a line's height above the baseline, at which marks within texts are."""

START, END, SOURCE = "start", "end", "source"
"""Kinds of marks."""


class Mark(NamedTuple):
    """Something that is looked for on the pages: the start or the end of a row (its id), or where in it a page of the source begins. It may
    stand ``within`` a text."""

    kind: str
    row: str
    page: int = 0
    within: bool = False

    def markup(self, *, in_line: bool = False) -> str:
        """Sets nothing, and can be found where it stands. Marks ``in_line`` or within a text are found on its baseline: they say how far
        up, or down, the edge of the line is."""
        known = f"{string(self.kind)}, {string(self.row)}, {self.page}"
        if self.within or in_line:
            up = ASCENT - 1 if self.kind == END else ASCENT
            return f"#context [#metadata(({known}, {up:.1f} * text.size))#label({string(MARK)})]"
        return f"#[#metadata(({known}, 0pt))#label({string(MARK)})]"


FOUND = (
    f"#context [#metadata(query(label({string(MARK)})).map(it => {{ let at = it.location().position(); "
    f"let (kind, row, page, up) = it.value; (kind, row, page, (..at, y: at.y - up)) }}))#label({string(LABEL)})]"
)
"""Stands at the end and has all marks with their places: at the upper edge of their line, or at the lower edge of a text that they end.
That it is one, and each mark knows nothing of its place, keeps what was set before from being set again."""


class PlaceMarks:
    """The marks of each text and picture: before which of its characters they stand. Ends stand behind the last one."""

    def __init__(self, blocks: Sequence[Block]) -> None:
        self._of: dict[str, list[tuple[int, Mark]]] = {}
        self._page = 1
        for block in blocks:
            inner = [block] if isinstance(block, PictureBlock) else list(texts_of(block))
            if not inner:
                continue
            self._of.setdefault(inner[0].id, []).append((0, Mark(START, block.id)))
            for one in inner:
                self._add_pages(one, block.id)
            self._of.setdefault(inner[-1].id, []).append((_length(inner[-1]), Mark(END, block.id)))

    def of(self, name: str) -> list[tuple[int, Mark]]:
        """The marks of a text or a picture in their order."""
        return self._of.get(name, [])

    def _add_pages(self, one: TextBlock | PictureBlock, row: str) -> None:
        """Marks where pages of the source begin that nothing before has come from."""
        if isinstance(one, TextBlock) and one.words:
            whole = any(isinstance(item, Tab) for item in one.content)
            begins = [(0 if whole else word.start, word.page) for word in one.words]
        else:
            begins = [(0, spot.page) for spot in one.spots[:1]]
        for at, page in begins:
            if page > self._page:
                self._of.setdefault(one.id, []).append((at, Mark(SOURCE, row, page, within=at > 0)))
                self._page = page


def _length(one: TextBlock | PictureBlock) -> int:
    return len(one.text) if isinstance(one, TextBlock) else 0
