"""Contents lists as fields (ECMA-376 part 1, 17.16.5.68): a word processor can make them anew, and each entry leads to its heading."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import Block, Role, Run, TextBlock
from evenquill.core.model.text import letters_and_digits_of
from evenquill.core.writers.docx.paragraphs import BLOCK_LINK
from evenquill.core.writers.docx.xml import XML_SPACE, Element, W, child, element

KNOWN_SHARE = 0.5
"""Share of the entries of a list that must be headings of the document to make it its contents list."""

DEEPEST_SHOWN = 9


class Contents(NamedTuple):
    """Contents lists of a document: the first and last entries (block ids) with the deepest level of the list, and entries with links."""

    begins: dict[str, int]
    ends: frozenset[str]
    entries: dict[str, TextBlock]
    targets: frozenset[str]


def contents_of(blocks: Sequence[Block]) -> Contents:
    """Finds the lists, and the headings that their entries name."""
    headings: dict[str, str] = {}
    for block in blocks:
        if isinstance(block, TextBlock) and block.role is Role.HEADING:
            headings.setdefault(letters_and_digits_of(block.text), block.id)
    begins: dict[str, int] = {}
    ends: set[str] = set()
    entries: dict[str, TextBlock] = {}
    targets: set[str] = set()
    for is_list, group in itertools.groupby(blocks, key=_is_entry):
        run = [block for block in group if isinstance(block, TextBlock)] if is_list else []
        known = {entry.id: headings.get(letters_and_digits_of(entry.text.rpartition("\t")[0])) for entry in run}
        if not run or sum(target is not None for target in known.values()) < KNOWN_SHARE * len(run):
            continue
        begins[run[0].id] = min(max(entry.level for entry in run), DEEPEST_SHOWN)
        ends.add(run[-1].id)
        for entry in run:
            target = known[entry.id]
            if target is not None:
                targets.add(target)
                entries[entry.id] = replace(entry, runs=_linked(entry.runs, BLOCK_LINK + target))
    return Contents(begins, frozenset(ends), entries, frozenset(targets))


def open_field(paragraph: Element, depth: int) -> None:
    """Begins the field in front of the text of its first entry."""
    place = 1 if len(paragraph) and paragraph[0].tag == f"{{{W}}}pPr" else 0
    instruction = element("r")
    text = child(instruction, "instrText")
    text.text = f' TOC \\o "1-{depth}" \\h \\z '
    text.set(XML_SPACE, "preserve")
    for n, made in enumerate((_mark("begin"), instruction, _mark("separate"))):
        paragraph.insert(place + n, made)


def close_field(paragraph: Element) -> None:
    """Ends the field behind the text of its last entry."""
    paragraph.append(_mark("end"))


def _mark(kind: str) -> Element:
    made = element("r")
    child(made, "fldChar", fldCharType=kind)
    return made


def _is_entry(block: Block) -> bool:
    return isinstance(block, TextBlock) and block.role is Role.CONTENTS


def _linked(runs: Sequence[Run], link: str) -> tuple[Run, ...]:
    return tuple(replace(run, link=link) for run in runs)
