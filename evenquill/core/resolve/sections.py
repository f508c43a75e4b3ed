"""Sections as they are written: which blocks follow one another in one layout, and what begins with it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Block, Document, PageSetup, RunningPart
from evenquill.core.model.sections import USUAL_PAGE

GAP_SHARE, SMALLEST_GAP, WIDEST_GAP = 0.04, 10.0, 24.0
"""Gap between columns as a share of the text's width, and its bounds in points."""


class Layout(NamedTuple):
    """What blocks that follow one another have in common: the page, what runs at its head and foot, the number of columns."""

    setup: PageSetup
    part: RunningPart | None
    columns: int

    @property
    def column_gap(self) -> float:
        """Points between columns, in proportion to the text's width."""
        return round(min(max(GAP_SHARE * self.setup.text_width, SMALLEST_GAP), WIDEST_GAP), 1)


class ResolvedSection(NamedTuple):
    """Blocks that are laid out alike. It ``continues`` on the page where the one before ends, or begins a new one; ``begins_part`` if it is
    the first with its running heads, whose first page may have others and whose numbers may begin anew."""

    layout: Layout
    continues: bool
    begins_part: bool
    blocks: list[Block]


def resolved_sections(document: Document, blocks: Sequence[Block]) -> list[ResolvedSection]:
    """The sections of a document as they come; at least one. Neighbours that are laid out alike are one."""
    parts = {part.id: part for part in document.running}
    layouts = {
        section.id: Layout(section.setup, parts.get(section.running), section.columns) for section in document.sections
    }
    first = next(iter(layouts.values()), Layout(USUAL_PAGE, None, 1))
    begun: set[str] = set()
    out: list[ResolvedSection] = []
    for block in blocks:
        before = out[-1].layout if out else None
        layout = layouts.get(block.section, before or first)
        if layout != before:
            out.append(_begun(layout, before, block.page_break, begun))
        out[-1].blocks.append(block)
    return out or [_begun(first, None, False, begun)]


def _begun(layout: Layout, before: Layout | None, on_new_page: bool, begun: set[str]) -> ResolvedSection:
    """A new section: on the page where the last one ends, if the paper and its first head allow."""
    part = layout.part
    new_part = part is not None and part.id not in begun
    if part is not None:
        begun.add(part.id)
    own_first_page = new_part and part is not None and part.first is not None
    same_paper = before is not None and layout.setup == before.setup
    return ResolvedSection(layout, same_paper and not on_new_page and not own_first_page, new_part, [])
