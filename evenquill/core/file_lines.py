"""Lines above and below paragraphs of files of word processors, where these files have them as paragraphs without text."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.model import NOTES, Block, TextBlock
from evenquill.core.model.sides import Sides


def with_lines(before: list[Block], made: Sequence[Block], sides: Sides) -> list[Block]:
    """What a paragraph has become, with the lines that it has. The line of one that became nothing, as many set it to part what is above
    from what is below, goes to the last text ``before`` it, behind which notes may stand: it is changed in place."""
    if not made and sides:
        at = next((n for n in reversed(range(len(before))) if not _is_note(before[n])), -1)
        above = before[at] if at >= 0 else None
        if isinstance(above, TextBlock):
            before[at] = replace(above, sides=above.sides | Sides.BOTTOM)
    return [replace(block, sides=sides) if isinstance(block, TextBlock) else block for block in made]


def _is_note(block: Block) -> bool:
    return isinstance(block, TextBlock) and block.role in NOTES
