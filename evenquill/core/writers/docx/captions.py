"""Numbers of captions as fields (ECMA-376 part 1, 17.16.5.56), so that they count on when one is added."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Block, Role, TextBlock
from evenquill.core.model.labels import label_of


class NumberField(NamedTuple):
    """The characters of a caption that are its number, the name of its sequence, and the field that counts it."""

    start: int
    end: int
    sequence: str
    instruction: str


def number_fields(blocks: Sequence[Block]) -> dict[str, NumberField]:
    """By block id the fields for the numbers of captions; numbers with a chapter's or a letter are left as they are."""
    out: dict[str, NumberField] = {}
    last: dict[str, int] = {}
    for block in blocks:
        if not isinstance(block, TextBlock) or block.role is not Role.CAPTION:
            continue
        label = label_of(block.text)
        if label is None or not label.number.isdecimal():
            continue
        sequence = label.word.rstrip(".")
        number = int(label.number)
        reset = "" if number == last.get(sequence, 0) + 1 else f"\\r {number} "
        last[sequence] = number
        out[block.id] = NumberField(label.number_start, label.end, sequence, f" SEQ {sequence} {reset}\\* ARABIC ")
    return out
