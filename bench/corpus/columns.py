"""Which gutters part columns by the truth: those whose left side is read before their right one."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import Line
from evenquill.core.layout.columns import columns_by
from evenquill.core.layout.gutters import Gutter, usual_size
from evenquill.core.layout.items import Item
from evenquill.core.layout.rows import rows_of

from .labels import Label, Truth

FEWEST_PAIRS = 2
"""Pairs of lines on both sides of a gutter from which it can be told which side is read first."""

AGREED = 0.8
"""Share of the pairs that must say the same."""

BELOW = 0.5
"""Ems by which a line stands lower than another if it is below it."""

NEXT = 3
"""Letters of the truth between two pieces of one line, at most."""


class TrueGutters:
    """Judges gutters of a page by where its lines stand in the truth."""

    def __init__(self, items: Sequence[Item], truth: Truth) -> None:
        lines = [item.content for item in items if isinstance(item.content, Line)]
        self._labels: dict[int, Label] = {}
        for line in lines:
            label = truth.label(line.text)
            if label is not None and label.role != "running":
                self._labels[id(line)] = label

    def judged(
        self, items: Sequence[Item], known: Sequence[float] | None = None
    ) -> list[tuple[Sequence[Gutter], Sequence[Item], list[float]]]:
        """All gutters that are looked at while the items are parted as the truth says, with their items and 1.0 for those that part."""
        seen: list[tuple[Sequence[Gutter], Sequence[Item], list[float]]] = []

        def judge(gutters: Sequence[Gutter], own: Sequence[Item]) -> Sequence[float]:
            likely = [float(bool(self.parts(gutter, own))) for gutter in gutters]
            if gutters:
                seen.append((gutters, own, likely))
            return likely

        columns_by(list(items), judge, known)
        return seen

    def parts(self, gutter: Gutter, items: Sequence[Item]) -> bool | None:
        """Whether a gutter parts columns, None where that cannot be told."""
        lines = [
            item.content
            for item in items
            if isinstance(item.content, Line) and gutter.top <= item.box.center_y <= gutter.bottom
        ]
        left: list[tuple[float, Label]] = []
        right: list[tuple[float, Label]] = []
        down = across = 0
        for row in rows_of(lines):
            before = [line for line in row if line.box.center_x < gutter.right]
            behind = [line for line in row if line.box.center_x >= gutter.right]
            last = self._labels.get(id(before[-1])) if before else None
            first = self._labels.get(id(behind[0])) if behind else None
            if last is not None:
                left.append((row[0].baseline, last))
            if first is not None:
                right.append((row[0].baseline, first))
            if (
                last is not None
                and first is not None
                and last.block == first.block
                and 0 <= first.start - last.end <= NEXT
            ):
                across += len(lines)  # the words of one line
        size = usual_size(items)
        for low, label in left:
            for high, other in right:
                if low - high > BELOW * size:
                    in_table = label.role == other.role == "cell" and label.block == other.block
                    if label.start < other.start and not in_table:
                        down += 1
                    else:
                        across += 1
        if down + across < FEWEST_PAIRS:
            return None
        share = down / (down + across)
        return None if 1 - AGREED < share < AGREED else share >= AGREED
