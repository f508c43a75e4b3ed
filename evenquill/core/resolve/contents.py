"""Contents lists, and lists of figures and tables, as fields (ECMA-376 part 1, 17.16.5.68).

A word processor can make them anew, and each entry leads to its heading or caption.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from evenquill.core.model import Block, Role, TextBlock
from evenquill.core.model.labels import label_of
from evenquill.core.model.text import letters_and_digits_of
from evenquill.core.resolve.captions import CaptionNumber

KNOWN_SHARE = 0.5
"""Share of the entries of a list that must be headings of the document to make it its contents list."""

DEEPEST_SHOWN = 9


class ContentsList(NamedTuple):
    """A list of headings down to ``depth``, or of captions of one ``sequence`` (all captions where it is empty)."""

    depth: int = 0
    sequence: str = ""


class Contents(NamedTuple):
    """Lists of a document by their first entries (block ids), their last entries, and by entry what it leads to."""

    begins: dict[str, ContentsList]
    ends: frozenset[str]
    targets: dict[str, str]


def contents_of(blocks: Sequence[Block], numbers: Mapping[str, CaptionNumber]) -> Contents:
    """Finds the lists, and the headings or captions that their entries name; ``numbers`` are those of captions."""
    headings = _titles(blocks, Role.HEADING)
    captions = _titles(blocks, Role.CAPTION)
    begins: dict[str, ContentsList] = {}
    ends: set[str] = set()
    targets: dict[str, str] = {}
    for is_list, group in itertools.groupby(blocks, key=_is_entry):
        run = [block for block in group if isinstance(block, TextBlock)] if is_list else []
        titles = {entry.id: letters_and_digits_of(entry.text.rpartition("\t")[0]) for entry in run}
        named = [{entry: known.get(title) for entry, title in titles.items()} for known in (headings, captions)]
        known = max(named, key=lambda targets: sum(target is not None for target in targets.values()))
        found = [target for target in known.values() if target is not None]
        if not run or len(found) < KNOWN_SHARE * len(run):
            continue
        begins[run[0].id] = _of_captions(found, numbers) if known is named[1] else _of_headings(run)
        ends.add(run[-1].id)
        for entry in run:
            target = known[entry.id]
            if target is not None:
                targets[entry.id] = target
    return Contents(begins, frozenset(ends), targets)


def _titles(blocks: Sequence[Block], role: Role) -> dict[str, str]:
    """The blocks of a role by their letters and digits, captions also without the word before their number."""
    out: dict[str, str] = {}
    for block in blocks:
        if isinstance(block, TextBlock) and block.role is role:
            out.setdefault(letters_and_digits_of(block.text), block.id)
            label = label_of(block.text) if role is Role.CAPTION else None
            if label is not None:
                out.setdefault(letters_and_digits_of(block.text[label.number_start :]), block.id)
    return out


def _of_headings(entries: Sequence[TextBlock]) -> ContentsList:
    return ContentsList(depth=min(max(entry.level for entry in entries), DEEPEST_SHOWN))


def _of_captions(captions: Sequence[str], numbers: Mapping[str, CaptionNumber]) -> ContentsList:
    """All captions of one sequence, or else all captions."""
    sequences = {numbers[caption].sequence for caption in captions if caption in numbers}
    counted = len(sequences) == 1 and all(caption in numbers for caption in captions)
    return ContentsList(sequence=sequences.pop() if counted else "")


def _is_entry(block: Block) -> bool:
    return isinstance(block, TextBlock) and block.role is Role.CONTENTS
