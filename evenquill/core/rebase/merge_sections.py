"""Sections merged from three sides: as they are read now, but for what the clerk has changed of them, and for rows that he has moved."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from evenquill.core.model import Block, Document, Section

_FIELDS = ("setup", "columns", "running")


def merged_sections(base: Document, mine: Document, theirs: Document) -> tuple[Section, ...]:
    """The sections of ``theirs`` with what was changed in ``mine`` of ``base``. What the clerk has set in one column stays so."""
    known, own = ({section.id: section for section in side.sections} for side in (base, mine))
    in_one_column = _has_columns(base) and not _has_columns(mine)
    out = []
    for section in theirs.sections:
        before, now = known.get(section.id), own.get(section.id)
        if before is not None and now is not None:
            changed = {name: getattr(now, name) for name in _FIELDS if getattr(now, name) != getattr(before, name)}
            section = replace(section, **changed)
        out.append(replace(section, columns=1) if in_one_column else section)
    return tuple(out)


def _has_columns(document: Document) -> bool:
    return any(section.columns > 1 for section in document.sections)


def with_sections(blocks: Iterable[Block], base: Document, mine: Document, theirs: Document) -> list[Block]:
    """Merged blocks in the sections that they are read in now; one that the clerk has moved to another section stays in it, one that
    only he has goes with what is before it."""
    known, own, read = ({block.id: block.section for block in side.blocks} for side in (base, mine, theirs))
    there = {section.id for section in theirs.sections}
    last = theirs.sections[0].id if theirs.sections else ""
    out: list[Block] = []
    for block in blocks:
        mine_now = own.get(block.id, "")
        moved = block.id in known and mine_now != known[block.id] and mine_now in there
        last = mine_now if moved else read.get(block.id, last)
        out.append(block if block.section == last else replace(block, section=last))
    return out
