"""Type sizes measured on scanned pages, made one over the document where they are nearly alike.

A page with three letters of a heading measures it less well than one with thirty: without this, headings of one level would differ
from page to page.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence

ALIKE = 0.075
"""Share by which sizes may differ and be one."""


def with_smooth_sizes(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages with the sizes of scanned ones smoothed; native ones know theirs."""
    weights: Counter[float] = Counter()
    for page in pages:
        if page.cleaned is not None:
            for line in page.lines:
                weights[line.size] += sum(len(word.text) for word in line.words)
    sizes = _groups(weights)
    return [_resized(page, sizes) if page.cleaned is not None else page for page in pages]


def _groups(weights: Counter[float]) -> dict[float, float]:
    """For each size the one that stands for it: the commonest first, which draws its neighbours to it."""
    stands: dict[float, float] = {}
    for size, _ in sorted(weights.items(), key=lambda item: (-item[1], item[0])):
        near = [other for other in set(stands.values()) if abs(other / size - 1) <= ALIKE]
        stands[size] = min(near, key=lambda other: abs(other - size)) if near else size
    return stands


def _resized(page: PageEvidence, sizes: dict[float, float]) -> PageEvidence:
    types = tuple(one._replace(size=sizes.get(one.size, one.size)) for one in page.types)
    lines = tuple(_resized_line(line, sizes) for line in page.lines)
    return replace(page, types=types, lines=lines)


def _resized_line(line: Line, sizes: dict[float, float]) -> Line:
    return line._replace(size=sizes.get(line.size, line.size))
