"""Colours as six hexadecimal digits (``rrggbb``), and how well one can be read on another."""

from __future__ import annotations

import re

COLOR = re.compile("[0-9a-f]{6}")
"""A colour, in small letters."""

WHITE, BLACK = "ffffff", "000000"

LEAST_CONTRAST, LEAST_FOR_LARGE = 4.5, 3.0
"""Contrast that letters have to their ground at least, to be read, and that of large ones (WCAG 2.2, 1.4.3)."""


PALE = 0xE6
"""The least of red, green and blue from which letters are so pale that only a ground shows them."""


def is_pale(color: str) -> bool:
    """Whether letters in a colour cannot be seen on white paper."""
    return min(bytes.fromhex(color)) >= PALE


def contrast(color: str, ground: str = WHITE) -> float:
    """The contrast of two colours, from 1 to 21 (WCAG 2.2, relative luminance)."""
    light, dark = sorted((_luminance(color), _luminance(ground)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def _luminance(color: str) -> float:
    parts = [int(color[n : n + 2], 16) / 255 for n in (0, 2, 4)]
    red, green, blue = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    return 0.2126 * red + 0.7152 * green + 0.0722 * blue
