"""Labels and values beside each other, whose lines are wrapped each in its own column: first all of the label, then all of the value."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import union

BEFORE = 0.5
"""Ems by which a line may begin before the column of values and be of it still."""


def in_pairs(lines: list[FlowLine]) -> list[FlowLine]:
    """The lines of a paragraph as they are read, if it is a label of several lines with its value beside it; else as they are."""
    places = _tabs(lines[0])
    if len(lines) < 2 or len(places) != 1:
        return lines
    value_x = lines[0].words[places[0]].box.x0 - BEFORE * lines[0].size
    labels: list[Sequence[FlowWord]] = []
    values: list[tuple[FlowLine, Sequence[FlowWord]]] = []
    parts: list[FlowLine] = []
    for line in lines:
        at = next((n for n, word in enumerate(line.words) if word.box.x0 >= value_x), len(line.words))
        label, value = line.words[:at], line.words[at:]
        if any(word.box.x1 > value_x + 2 * BEFORE * line.size for word in label):
            return lines
        if label:
            labels.append(label)
            parts.append(_of_words(line, label))
        if value:
            values.append((line, (value[0]._replace(before=""), *value[1:])))
    if len(labels) < 2 or not values:
        return lines
    line, first = values[0]
    whole = (*parts[-1].words, first[0]._replace(before="\t"), *first[1:])
    return [*parts[:-1], _of_words(parts[-1], whole), *(_of_words(own, words) for own, words in values[1:])]


def _tabs(line: FlowLine) -> list[int]:
    return [n for n, word in enumerate(line.words) if n and word.before == "\t"]


def _of_words(line: FlowLine, words: Sequence[FlowWord]) -> FlowLine:
    """A line of some of its words, or of others with them."""
    box = union(word.box for word in words)
    return line._replace(box=box, x0=box.x0, x1=box.x1, words=tuple(words))
