"""Labels and values beside each other in a paragraph by itself, whose lines are wrapped each in its own column: first all of the label,
then all of the value. Blocks of several are known better (``pair_blocks``)."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Sequence

from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import union

BEFORE = 0.5
"""Ems by which a line may begin before the column of values and be of it still."""

APART = 1.0
"""Ems between words of two columns, at least, where no tab parts them."""


def in_pairs(lines: list[FlowLine]) -> list[FlowLine]:
    """The lines of a paragraph as they are read, if its first one has labels and values beside each other of which one that another follows
    has several lines; else as they are."""
    starts = _column_starts(lines[0])
    if len(lines) < 2 or len(starts) < 2:
        return lines
    columns: list[list[tuple[FlowLine, list[FlowWord]]]] = [[] for _ in starts]
    for line in lines:
        end = float("-inf")
        for word in line.words:
            place = bisect_right(starts, word.box.x0) - 1
            fresh = not columns[place] or columns[place][-1][0] is not line
            crosses = place + 1 < len(starts) and word.box.x1 > starts[place + 1] + 2 * BEFORE * line.size
            if crosses or (fresh and word.before != "\t" and word.box.x0 - end < APART * line.size):
                return lines
            if fresh:
                columns[place].append((line, []))
            columns[place][-1][1].append(word)
            end = word.box.x1
    if all(len(own) < 2 for own in columns[:-1]):
        return lines
    return column_by_column(columns)


def column_by_column(columns: Iterable[Sequence[tuple[FlowLine, Sequence[FlowWord]]]]) -> list[FlowLine]:
    """Lines of cells, each with its words, as they are read: column by column, from top to bottom, each column behind a tab."""
    out: list[FlowLine] = []
    for own in columns:
        for n, (line, words) in enumerate(own):
            if out and not n:
                above = out.pop()
                out.append(_of_words(above, [*above.words, words[0]._replace(before="\t"), *words[1:]]))
            else:
                out.append(_of_words(line, [words[0]._replace(before=""), *words[1:]]))
    return out


def _column_starts(line: FlowLine) -> list[float]:
    """Where the columns of a line begin that tabs part, in points; the first one begins anywhere."""
    tabs = (word.box.x0 for n, word in enumerate(line.words) if n and word.before == "\t")
    return [0.0, *(x - BEFORE * line.size for x in tabs)]


def _of_words(line: FlowLine, words: Sequence[FlowWord]) -> FlowLine:
    """A line of some of its words, or of others with them."""
    box = union(word.box for word in words)
    return line._replace(box=box, x0=box.x0, x1=box.x1, words=tuple(words))
