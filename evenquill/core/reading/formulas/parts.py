"""Parts of a formula that is being put together: symbols as they were read, and what has been made of some already."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from evenquill.core.equations.signs import BARS, CLOSING, NARY, OPENING
from evenquill.core.model import Box, union
from evenquill.core.model.equation import Letterform, Node, Operator

AXIS = 0.25
"""Ems above the baseline at which fraction bars, fences and large operators are centred; typefaces for mathematics vary by 0.02."""

LEVEL = 0.12
"""Ems between baselines that count as one; rounding in producers stays under 0.05."""

SMALLER = 0.85
"""Size of a script over that of its line, at most; TeX takes 0.7, others up to 0.8."""


class Part(NamedTuple):
    """A symbol or something made of several.

    ``box`` is of its ink, in points. ``text`` is the symbol's character, nothing for what was made of several; ``node`` what was made.
    ``baseline`` and ``size`` are those of its letters; what is centred on the axis of its line has the baseline that follows from that.
    ``words`` is True for letters of the text's own typeface, ``block`` for what has no baseline of its own: fractions, grids.
    """

    box: Box
    baseline: float
    size: float
    text: str = ""
    form: Letterform = Letterform.UPRIGHT
    node: Node | None = None
    words: bool = False
    block: bool = False

    @property
    def centred(self) -> bool:
        """Whether it stands on the axis of its line and not on the baseline."""
        return self.block or self.text in NARY or is_fence(self.text)

    @property
    def carries_size(self) -> bool:
        """Whether its size and its baseline are those of its line: letters, figures, what was made of them."""
        return not self.centred and (self.node is not None or self.text.isalnum())

    def made(self) -> Node:
        """Its node, a sign by itself for a symbol of which nothing else was made."""
        return self.node if self.node is not None else Operator(self.text)


def is_fence(text: str) -> bool:
    return text in OPENING or text in CLOSING or text in BARS


def on_axis(box: Box, size: float) -> float:
    """The baseline of a line whose axis goes through the middle of a box."""
    return box.center_y + AXIS * size


def box_of(parts: Iterable[Part]) -> Box:
    return union([part.box for part in parts])


def size_of(parts: Sequence[Part]) -> float:
    """The largest size of the letters and figures among the parts, or of what there is: that of signs is less sure on scans."""
    letters = [part.size for part in parts if part.carries_size]
    return max(letters or [part.size for part in parts if not part.centred] or [part.size for part in parts])


def compound(node: Node, box: Box, size: float) -> Part:
    """Something made of several parts, centred on the axis of its line."""
    return Part(box, on_axis(box, size), size, node=node, block=True)
