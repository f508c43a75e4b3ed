"""Lines of a document that are counted, and the countings that they belong to: ``Art. 1``, ``Art. 2`` far apart are headings, ``1.``,
``2.`` close together are items."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.rebuild.series import Place, place_of

MOST_COUNTED, FARTHEST = 12, 40.0
"""Lines of a counting, and lines from one of them to the next, beyond which more tell no more."""

MOST_LEFT_OUT = 2
"""How much the next number of a counting is higher, at most: one may have been misread."""

COUNTING_FEATURES = ("counting", "counting_apart", "counting_named", "counting_width")
"""How many lines are in the counting of a line, 0 for one that is not counted; the mean number of lines from one to the next; whether a
word or sign names what is counted; the mean share of their columns' width that they take."""

NOT_COUNTED = (0.0, *(UNMEASURED,) * (len(COUNTING_FEATURES) - 1))
"""COUNTING_FEATURES of a line that is not counted."""

_BARE = re.compile(r"^(\d{1,3})\s")


class CountedLine(NamedTuple):
    """A line by its text, and the share of the width of its column that it takes."""

    text: str
    width: float


class _Member(NamedTuple):
    at: int
    values: tuple[int, ...]


def counting_features(lines: Sequence[CountedLine]) -> Mapping[int, tuple[float, ...]]:
    """COUNTING_FEATURES of the lines of a document that are counted, by their places; ``lines`` are all of it, in the order of reading."""
    chains: defaultdict[tuple[str, str, str], list[list[_Member]]] = defaultdict(list)
    for at, line in enumerate(lines):
        place = place_of(line.text) or _bare(line.text)
        if place is None:
            continue
        member = _Member(at, place.values)
        own = chains[place.word, place.sort, place.sign]
        if own and _goes_on(own[-1][-1].values, place):
            own[-1].append(member)
        else:
            own.append([member])
    found: dict[int, tuple[float, ...]] = {}
    for (word, _, _), own in chains.items():
        for chain in own:
            found |= dict.fromkeys((member.at for member in chain), _features(chain, word, lines))
    return found


def _bare(text: str) -> Place | None:
    """The place of a text that begins with a number alone, as titles of sections do."""
    match = _BARE.match(text)
    return Place("", "1", (int(match.group(1)),), "") if match else None


def _goes_on(last: tuple[int, ...], place: Place) -> bool:
    return any(0 < value - before <= MOST_LEFT_OUT for before in last for value in place.values)


def _features(chain: Sequence[_Member], word: str, lines: Sequence[CountedLine]) -> tuple[float, ...]:
    apart = (chain[-1].at - chain[0].at) / (len(chain) - 1) if len(chain) > 1 else UNMEASURED
    widths = [lines[member.at].width for member in chain]
    return (float(min(len(chain), MOST_COUNTED)), min(apart, FARTHEST), float(bool(word)), sum(widths) / len(widths))
