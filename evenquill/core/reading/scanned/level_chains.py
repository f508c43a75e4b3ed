"""Small pieces of ink that follow one another at one height: dashes of rules, dots of leaders."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Follows = Callable[[int, int], bool]
"""Whether a piece follows another one to its left, by their indices."""


def level_chains(
    boxes: NDArray[np.float64], pieces: NDArray[np.int64], aside: float, reach: float, follows: Follows
) -> list[NDArray[np.int64]]:
    """The pieces (indices of boxes (n, 4)) in chains, each from left to right. One ``follows`` another that ends less than ``reach`` to its
    left and whose middle is less than ``aside`` higher or lower, all in the unit of the boxes."""
    chains: list[list[int]] = []
    # By the height of their last piece, in bands: on a dirty page there are many, and few of them at one height.
    by_band: defaultdict[int, list[int]] = defaultdict(list)
    middle = (boxes[:, 1] + boxes[:, 3]) / 2
    for piece in pieces[np.argsort(boxes[pieces, 0], kind="stable")].tolist():
        start, band = boxes[piece, 0], int(middle[piece] // aside)
        found = -1
        for near in (band - 1, band, band + 1):
            by_band[near] = [n for n in by_band[near] if start - boxes[chains[n][-1], 2] < reach]
            for n in by_band[near]:
                last = chains[n][-1]
                if abs(middle[last] - middle[piece]) < aside and follows(piece, last):
                    found = max(found, n)
        if found < 0:
            found = len(chains)
            chains.append([])
        else:
            by_band[int(middle[chains[found][-1]] // aside)].remove(found)
        chains[found].append(piece)
        by_band[band].append(found)
    return [np.array(chain, np.int64) for chain in chains]
