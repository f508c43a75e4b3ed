"""Running heads and feet as the document has them: runs with tabs, a style for each look."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

from evenquill.core.layout.furniture import PageFurniture, Rows
from evenquill.core.layout.page_numbers import PAGE_NUMBER
from evenquill.core.layout.running import HeadAndFoot, RunningText, running_stretches
from evenquill.core.model import (
    Align,
    Field,
    FieldKind,
    Inline,
    PageGeometry,
    ResolvedStyle,
    Running,
    RunningPair,
    RunningPart,
    Tab,
)
from evenquill.core.model.inline import from_text
from evenquill.core.model.sections import PartStart
from evenquill.core.model.sides import Sides
from evenquill.core.rebuild.readable_colors import readable_on_paper
from evenquill.core.rebuild.ruled_paragraphs import RunningSides


class RunningParts(NamedTuple):
    """The parts of a document by what runs at their heads and feet, the pages of the source that they begin on, and the styles that they
    have."""

    parts: tuple[RunningPart, ...]
    starts: tuple[PartStart, ...]
    styles: tuple[ResolvedStyle, ...]


def running_parts(
    furniture: Sequence[PageFurniture], pages: Sequence[PageGeometry], ruled: Mapping[int, RunningSides]
) -> RunningParts:
    """The running heads and feet of all pages; ``ruled`` says by page which of their sides have a line."""
    maker = _Maker(pages, ruled)
    stretches = running_stretches(furniture)
    parts = tuple(
        RunningPart(
            f"running{n}",
            maker.pair(stretch.usual),
            maker.pair(stretch.even) if stretch.even else None,
            maker.pair(stretch.first) if stretch.first else None,
            stretch.start,
            stretch.format,
        )
        for n, stretch in enumerate(stretches)
    )
    starts = tuple(PartStart(stretch.page, part.id) for stretch, part in zip(stretches, parts, strict=True))
    return RunningParts(parts, starts, tuple(maker.styles))


@dataclass
class _Maker:
    pages: Sequence[PageGeometry]
    ruled: Mapping[int, RunningSides]
    styles: list[ResolvedStyle] = field(default_factory=list)

    def pair(self, sides: HeadAndFoot) -> RunningPair:
        return RunningPair(
            self._running(sides.head, "Running head", "head"), self._running(sides.foot, "Running foot", "foot")
        )

    def _running(self, text: RunningText | None, name: str, side: str) -> Running | None:
        if text is None:
            return None
        drawn: Sides = getattr(self.ruled.get(text.page, RunningSides()), side)
        align, runs = _runs(text.rows)
        box = self.pages[text.page - 1].text_box
        tabs = (round(box.width / 2, 1), round(box.width, 1)) if any(isinstance(item, Tab) for item in runs) else ()
        return Running(runs, self._style(text, name, align), tabs, drawn)

    def _style(self, text: RunningText, name: str, align: Align) -> str:
        """The style of that look, made where there is none yet."""
        look = text.type._replace(color=readable_on_paper(text.type.color))
        count = 0
        for style in self.styles:
            if style.name.startswith(name):
                count += 1
                wanted = (look.font, look.size, look.bold, look.italic, look.color, align)
                if (style.font, style.size, style.bold, style.italic, style.color, style.align) == wanted:
                    return style.id
        own = f"{name} {count + 1}" if count else name
        self.styles.append(
            ResolvedStyle(own, own, look.font, look.family, look.size, look.bold, look.italic, look.color, align)
        )
        return own


def _runs(rows: Rows) -> tuple[Align, tuple[Inline, ...]]:
    """Rows of one piece each in one place are aligned there; else pieces are parted by tabs: left, middle, right."""
    stops = {pieces[0].stop for pieces in rows if len(pieces) == 1}
    if all(len(pieces) == 1 for pieces in rows) and len(stops) == 1:
        align = (Align.LEFT, Align.CENTER, Align.RIGHT)[stops.pop()]
        return align, _content("\n".join(pieces[0].text for pieces in rows))
    lines = []
    for pieces in rows:
        text, at = "", 0
        for piece in pieces:
            text += "\t" * (piece.stop - at) if piece.stop > at else (" " if text else "")
            text += piece.text
            at = max(at, piece.stop)
        lines.append(text)
    return Align.LEFT, _content("\n".join(lines))


def _content(text: str) -> tuple[Inline, ...]:
    """Rows as content, with a field for each place of the page number."""
    before, *others = text.split(PAGE_NUMBER)
    content = list(from_text(before))
    for other in others:
        content += [Field(FieldKind.PAGE), *from_text(other)]
    return tuple(content)
