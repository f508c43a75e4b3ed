"""Items and headings within those that they stand below."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.model import TextBlock


def with_deeper(blocks: Sequence[TextBlock]) -> Iterator[tuple[TextBlock, Sequence[TextBlock]]]:
    """Each outermost block of those that follow one another, with the blocks behind it that have deeper levels."""
    at = 0
    while at < len(blocks):
        end = next((n for n in range(at + 1, len(blocks)) if blocks[n].level <= blocks[at].level), len(blocks))
        yield blocks[at], blocks[at + 1 : end]
        at = end
