"""Lines above and below paragraphs of files of word processors, where these files have them as paragraphs without text."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.model import Block, TextBlock
from evenquill.core.model.sides import Sides


def with_lines(before: list[Block], made: Sequence[Block], sides: Sides) -> list[Block]:
    """What a paragraph has become, with the lines that it has. The line of one that became nothing, as many set it to part what is above
    from what is below, goes to the last of the blocks ``before`` it, where that is text: it is changed in place."""
    if not made and sides and before and isinstance(before[-1], TextBlock):
        before[-1] = replace(before[-1], sides=before[-1].sides | Sides.BOTTOM)
    return [replace(block, sides=sides) if isinstance(block, TextBlock) else block for block in made]
