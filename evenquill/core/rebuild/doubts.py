"""What is less than sure about paragraphs: that one is of another kind, is two, or carries on the text before. Queries are made of it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.model import Block, Role, StructureDoubt, TextBlock
from evenquill.core.rebuild.drafts import Draft
from evenquill.core.rebuild.structure.roles import ROLES

ALWAYS, LEAST = 0.2, 0.08
"""Likelihood that something is wrong from which it is asked always; below the second never. What lies between is asked as far as a clerk
has time for it: see ASKED_A_PAGE."""

ASKED_A_PAGE = 1.6
"""Doubts for each page of a document up to which those below ALWAYS are asked too, the likeliest first."""

ROLE_OF = {
    "text": Role.PARAGRAPH, "lines": Role.PARAGRAPH, "pairs": Role.PARAGRAPH, "heading": Role.HEADING, "item": Role.LIST_ITEM,
    "caption": Role.CAPTION, "note": Role.NOTE, "contents": Role.CONTENTS, "code": Role.CODE, "quotation": Role.QUOTE,
    "verse": Role.VERSE, "term": Role.TERM, "meaning": Role.DEFINITION, "cell": Role.CELL,
}  # fmt: skip
"""What a block is that is made of lines of a role."""

OFFERED = frozenset({Role.PARAGRAPH, Role.HEADING, Role.LIST_ITEM, Role.QUOTE, Role.CODE})
"""Kinds that are offered as answers: a row can be made one of them with nothing else changed."""


def doubts_of(draft: Draft) -> tuple[StructureDoubt, ...]:
    """The doubts about a paragraph, none of what the file itself says, or of what was decided by more than its lines."""
    return (*_of_role(draft), *_of_joints(draft))


def with_doubts_that_are_asked(blocks: Sequence[Block], pages: int) -> list[Block]:
    """The blocks of a document of so many pages with the likeliest of their doubts: all from ALWAYS, and others while there are few."""
    found = sorted(
        (doubt.likelihood for block in blocks if isinstance(block, TextBlock) for doubt in block.doubts), reverse=True
    )
    enough = math.ceil(ASKED_A_PAGE * pages)
    limit = min(ALWAYS, found[enough - 1]) if len(found) >= enough else LEAST
    return [
        replace(block, doubts=tuple(doubt for doubt in block.doubts if doubt.likelihood >= limit))
        if isinstance(block, TextBlock) and block.doubts
        else block
        for block in blocks
    ]


def _of_role(draft: Draft) -> Iterator[StructureDoubt]:
    if not draft.of_roles or ROLE_OF.get(draft.likely_role) is not draft.role or draft.role not in OFFERED:
        return
    shares: dict[Role, float] = {}
    for name, share in zip(ROLES, draft.of_roles, strict=True):
        shares[ROLE_OF[name]] = shares.get(ROLE_OF[name], 0.0) + share
    other = max(OFFERED - {draft.role}, key=lambda role: shares[role])
    if shares[other] >= LEAST:
        yield StructureDoubt(round(shares[other], 2), role=other, level=1 if other is Role.HEADING else 0)


def _of_joints(draft: Draft) -> Iterator[StructureDoubt]:
    if draft.role in (Role.CODE, Role.CONTENTS, Role.CELL):
        return
    if 1 - draft.new_likelihood >= LEAST:
        yield StructureDoubt(round(1 - draft.new_likelihood, 2))
    for place, likelihood in sorted(draft.seams.items()):
        if likelihood >= LEAST and place < len(draft.lines):
            line = draft.lines[place]
            yield StructureDoubt(round(likelihood, 2), box=line.words[0].box, page=line.page)
