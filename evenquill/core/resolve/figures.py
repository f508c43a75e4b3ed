"""Pictures with the captions below them, and those that text goes around."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Align, Block, PictureBlock, Role, TextBlock

BESIDE_GAP = 10.0
"""Points between a picture and the text that goes around it."""


def caption_below(blocks: Sequence[Block], at: int) -> TextBlock | None:
    """The caption right below a picture, which is one figure with it."""
    below = blocks[at + 1] if at + 1 < len(blocks) else None
    return below if isinstance(below, TextBlock) and below.role is Role.CAPTION and not below.page_break else None


def goes_around(blocks: Sequence[Block], at: int) -> bool:
    """Whether text goes around a picture: it is to, the picture leaves a side free, and text follows it and its caption."""
    block = blocks[at]
    if not isinstance(block, PictureBlock) or not block.around or block.align is Align.CENTER:
        return False
    behind = at + (1 if caption_below(blocks, at) is None else 2)
    following = blocks[behind] if behind < len(blocks) else None
    return isinstance(following, TextBlock) and not following.page_break


def figure_around(blocks: Sequence[Block], at: int) -> PictureBlock | None:
    """The picture that text goes around and that a block is, or is the caption of."""
    own = at - 1 if at and caption_below(blocks, at - 1) is blocks[at] else at
    picture = blocks[own]
    return picture if isinstance(picture, PictureBlock) and goes_around(blocks, own) else None
