"""What stands around the lines of a page: rules, boxes, tags, and the titles of the outline."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence, Rule
from evenquill.core.model import Box
from evenquill.core.model.text import letters_and_digits_of

MOST_BOXES = 400
"""Rectangles on a page, of which more are a drawing."""


class Surroundings(NamedTuple):
    """What stands around the lines of a page and is no line: level rules by height, boxes; titles of the outline in letters; what tags call
    headings and lists, by place of the tag."""

    rules: tuple[Rule, ...]
    boxes: tuple[Box, ...]
    titles: frozenset[str]
    heading_tags: frozenset[int]
    list_tags: frozenset[int]
    width: float
    height: float

    def rules_between(self, above: Box, below: Box) -> int:
        """Horizontal rules between two lines that are at least half as wide as the narrower one."""
        least = 0.5 * min(above.width, below.width)
        first = bisect_right(self.rules, above.center_y, key=_height)
        end = bisect_left(self.rules, below.center_y, key=_height)
        return sum(rule.box.overlap_x(below) >= least for rule in self.rules[first:end])

    def box_of(self, box: Box) -> int:
        """Which outlined or filled rectangle a line stands in, -1 for none."""
        best, area = -1, float("inf")
        for n, other in enumerate(self.boxes):
            if other.holds_middle(box) and other.width * other.height < area and other.width < 2000:
                best, area = n, other.width * other.height
        return best


def _height(rule: Rule) -> float:
    return rule.box.center_y


def surroundings_of(page: PageEvidence, titles: frozenset[str]) -> Surroundings:
    headings = frozenset(n for n, tag in enumerate(page.tags) if tag.kind.startswith("H") or tag.kind == "Title")
    lists = frozenset(n for n, tag in enumerate(page.tags) if tag.depth >= 0)
    level = tuple(sorted((rule for rule in page.rules if rule.horizontal), key=_height))
    return Surroundings(
        level, page.boxes if len(page.boxes) <= MOST_BOXES else (), titles, headings, lists, page.width, page.height
    )


def outline_titles(titles: Sequence[str]) -> frozenset[str]:
    """Titles of an outline in letters and digits alone."""
    return frozenset(letters_and_digits_of(title) for title in titles) - {""}
