"""Fences whose straight parts were taken for upright rules, as symbols."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Box
from evenquill.core.reading.scanned.formulas.seen_symbols import Seen
from evenquill.core.reading.scanned.formulas.tall_fences import as_fence, fence_at
from evenquill.core.reading.scanned.segments import Segments

TALLEST, BESIDE = 28.0, 1.5
"""X-heights of a fence, and between it and ink beside it that may be of a formula, at most."""


class FencesAtRules(NamedTuple):
    """The fences, and the pieces of ink among those given that are no ends of them."""

    fences: list[Seen]
    rest: list[int]


def fences_at_rules(segments: Segments, loose: Sequence[int]) -> FencesAtRules:
    """The fences at upright rules that stand close beside loose pieces of ink."""
    boxes = {piece: segments.black.pieces.box(piece) for piece in loose}
    found: list[Box] = []
    fences: list[Seen] = []
    for rule in segments.rules.upright:
        reach = BESIDE * segments.x_height
        near = any(
            rule.overlap_x(box) > -reach and rule.overlap_y(box) > -0.3 * segments.x_height for box in boxes.values()
        )
        fence = (
            fence_at(rule, segments.ink, segments.x_height)
            if near and rule.height < TALLEST * segments.x_height
            else None
        )
        if fence is None or any(fence.box.overlap_x(box) > 0 and fence.box.overlap_y(box) > 0 for box in found):
            continue
        found.append(fence.box)
        fences.append(Seen((), fence.box, as_fence(fence.text)))
    rest = [piece for piece, box in boxes.items() if not any(fence.holds(box, 1.0) for fence in found)]
    return FencesAtRules(fences, rest)
