"""Light letters of dark grounds: a paragraph stands on white paper, so their colour, which nobody could read there, goes.

Cells keep what they are filled with, and so the colour of their letters.
"""

from __future__ import annotations

from collections.abc import Iterable

from evenquill.core.colors import is_pale
from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine
from evenquill.core.rebuild.drafts import AnyDraft, Draft, TableDraft


def with_readable_colors(drafts: Iterable[AnyDraft]) -> None:
    """Takes the colour from the letters of paragraphs, and of cells that are not filled, where it is too light for paper."""
    readable: dict[Type, Type] = {}
    for draft in drafts:
        if isinstance(draft, Draft):
            _make_readable(draft, readable)
        elif isinstance(draft, TableDraft):
            for cell in draft.cells:
                for text in cell.drafts if not cell.fill else ():
                    _make_readable(text, readable)


def readable_on_paper(color: str | None) -> str | None:
    """The colour, None where it is too light for white paper."""
    return None if color is not None and is_pale(color) else color


def _make_readable(draft: Draft, readable: dict[Type, Type]) -> None:
    if any(readable_on_paper(word.type.color) != word.type.color for line in draft.lines for word in line.words):
        draft.lines = [_readable(line, readable) for line in draft.lines]


def _readable(line: FlowLine, readable: dict[Type, Type]) -> FlowLine:
    words = []
    for word in line.words:
        look = readable.setdefault(word.type, word.type._replace(color=readable_on_paper(word.type.color)))
        words.append(word._replace(type=look))
    return line._replace(words=tuple(words))
