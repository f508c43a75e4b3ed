"""Numbers of captions that are counted, so that they count on when one is added."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Block, Role, TextBlock
from evenquill.core.model.labels import label_of


class CaptionNumber(NamedTuple):
    """The characters of a caption that are its number, the name of its sequence, and the number itself where the count begins anew."""

    start: int
    end: int
    sequence: str
    reset: int | None


def caption_numbers(blocks: Sequence[Block]) -> dict[str, CaptionNumber]:
    """By block id the numbers of captions; numbers with a chapter's or a letter are left as they are."""
    out: dict[str, CaptionNumber] = {}
    last: dict[str, int] = {}
    for block in blocks:
        if not isinstance(block, TextBlock) or block.role is not Role.CAPTION:
            continue
        label = label_of(block.text)
        if label is None or not label.number.isdecimal():
            continue
        sequence = label.word.rstrip(".")
        number = int(label.number)
        reset = None if number == last.get(sequence, 0) + 1 else number
        last[sequence] = number
        out[block.id] = CaptionNumber(label.number_start, label.end, sequence, reset)
    return out
