"""Tall fences: told by their outline, since what makes them a brace or a bracket is thin for their height."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.formulas.symbols import card, number_of
from evenquill.core.reading.scanned.raster import Pixels

TALL, THIN = 3.4, 0.3
"""X-heights of a fence from which it is tall, and its width over its height, at most."""

STRAIGHT = 0.035
"""Deviation over the height up to which a stroke is straight."""

FOOT = 2.5
"""Width over that of the stroke from which a straight fence has feet, as brackets do, so that half of that deviation tells."""

SPIKE, BEND = 0.3, 0.15
"""How far the stroke of a brace has come back from its spike a tenth of the height away from it, over how far its ends are; and how far an
arc has come a tenth of the height before its ends, at least: a bracket's stroke has not moved there."""

SIDEWAYS, LENGTHWISE = 2.0, 1.3
"""X-heights beside a rule, and lengths of it beyond its ends, within which the rest of a fence lies."""

SURE = 0.97
"""Likelihood of what is told so."""


def tall_fence(own: Pixels, x_height: float) -> str:
    """The fence that ink is by its outline (1 where it is, in a box without paper around), nothing for what is none."""
    height, width = own.shape
    if height < TALL * x_height or width > THIN * height:
        return ""
    at = [_middle(own, share) for share in (0.02, 0.1, 0.25, 0.4, 0.5, 0.6, 0.75, 0.9, 0.98)]
    if any(value is None for value in at):
        return ""
    top, high, upper, before, middle, behind, lower, low, bottom = (
        float(value) / height for value in at if value is not None
    )
    ends = top - middle, bottom - middle
    straight = STRAIGHT if width < FOOT * float(np.median(own.sum(axis=1))) else STRAIGHT / 2
    if max(map(abs, (*ends, upper - middle, lower - middle))) < straight:
        return "|"
    if ends[0] * ends[1] < 0 or min(map(abs, ends)) < straight:
        return ""
    opens = ends[0] > 0
    end = (ends[0] + ends[1]) / 2
    near = ((before - middle) + (behind - middle)) / 2 / end
    far = ((upper - middle) + (lower - middle)) / 2 / end
    if near > SPIKE:
        return "{" if opens else "}"
    if ((high - middle) + (low - middle)) / 2 / end > BEND:
        return ("⟨" if opens else "⟩") if near > 0.17 and far > 0.42 else ("(" if opens else ")")
    return "[" if opens else "]"


def _middle(own: NDArray[np.uint8], share: float) -> float | None:
    """The middle of the ink around a height (a share of the whole), None where there is none."""
    height = own.shape[0]
    reach = max(round(0.015 * height), 1)
    row = min(max(round(share * (height - 1)), 0), height - 1)
    columns = np.flatnonzero(own[max(row - reach, 0) : row + reach + 1].any(axis=0))
    return float(columns.mean()) if len(columns) else None


def as_fence(text: str) -> NDArray[np.float32]:
    """How likely each class is for a fence that was told by its outline."""
    count = len(card().classes)
    out = np.full(count, (1 - SURE) / (count - 1), np.float32)
    out[number_of(text)] = SURE
    return out


class FenceAtRule(NamedTuple):
    """A fence whose straight part was taken for a rule: its box in pixels, and its text."""

    box: Box
    text: str


def fence_at(rule: Box, ink: Pixels, x_height: float) -> FenceAtRule | None:
    """The fence that an upright rule is the straight part of, None for a rule that is none; ``ink`` is all of the page's."""
    reach, more = SIDEWAYS * x_height, LENGTHWISE * rule.height + x_height
    x0, y0 = max(int(rule.x0 - reach), 0), max(int(rule.y0 - more), 0)
    window = ink[y0 : int(rule.y1 + more), x0 : int(rule.x1 + reach)]
    count, labels = cv2.connectedComponents(np.ascontiguousarray(window), connectivity=8)
    inside = labels[int(rule.y0) - y0 : round(rule.y1) - y0, int(rule.x0) - x0 : round(rule.x1) + 1 - x0]
    if count < 2 or not inside.any():
        return None
    label = int(np.bincount(inside[inside > 0]).argmax())
    rows, columns = np.nonzero(labels == label)
    box = Box(x0 + int(columns.min()), y0 + int(rows.min()), x0 + int(columns.max()) + 1, y0 + int(rows.max()) + 1)
    own = (labels[rows.min() : rows.max() + 1, columns.min() : columns.max() + 1] == label).astype(np.uint8)
    text = tall_fence(own, x_height)
    return FenceAtRule(box, text) if text else None
