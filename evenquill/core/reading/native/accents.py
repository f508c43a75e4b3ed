"""Accents that a page sets as characters of their own, over or under their letters, as typefaces do that have no letters with accents."""

from __future__ import annotations

import unicodedata
from collections.abc import Sequence

import numpy as np

from evenquill.core.reading.native.frame import Floats

COMBINING = {
    "`": "\u0300", "´": "\u0301", "\u02ca": "\u0301", "ˆ": "\u0302", "˜": "\u0303", "¯": "\u0304", "˘": "\u0306", "˙": "\u0307",
    "¨": "\u0308", "˚": "\u030a", "˝": "\u030b", "ˇ": "\u030c", "¸": "\u0327", "˛": "\u0328", ",": "\u0326",
}  # fmt: skip
"""Accents that take room of their own, and those that go with the letter before them. A comma is one only below a letter."""

UNDOTTED = {"ı": "i", "ȷ": "j"}

OVER = 0.6
"""Share of an accent's width that its letter lies under."""

RAISED = 0.5
"""Share of a letter's height by which the accent of a capital is raised, at most."""


def with_accents(
    texts: Sequence[str], boxes: Floats, kept: frozenset[int] = frozenset()
) -> tuple[list[str], list[int]]:
    """The characters with letters put together with the accents that lie over them, and the places of these accents, which are gone.

    ``boxes`` is (n, 4): left, top, right, bottom. The letters at the places ``kept`` stay as they are.
    """
    accents = [n for n, text in enumerate(texts) if text in COMBINING]
    if not accents:
        return list(texts), []
    out = list(texts)
    is_letter = np.array([text.isalpha() and text not in COMBINING and n not in kept for n, text in enumerate(texts)])
    left, top, right, bottom = boxes.T
    height = bottom - top
    gone: list[int] = []
    for n in accents:
        width = max(right[n] - left[n], 0.01)
        over = np.minimum(right, right[n]) - np.maximum(left, left[n])
        level = np.abs(bottom - bottom[n]) <= RAISED * np.maximum(height, height[n])
        near = np.flatnonzero(is_letter & level & (over >= OVER * np.minimum(width, right - left)))
        if not len(near):
            continue
        middle = (left[n] + right[n]) / 2
        letter = int(near[np.argmin(np.abs((left[near] + right[near]) / 2 - middle))])
        base = UNDOTTED.get(out[letter], out[letter])
        whole = unicodedata.normalize("NFC", base + COMBINING[texts[n]])
        if len(whole) == 1:
            out[letter] = whole
            gone.append(n)
    return out, gone
