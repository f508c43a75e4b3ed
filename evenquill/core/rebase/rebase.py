"""The merge of three documents: ``base`` as it was read, ``mine`` as the clerk has made it, ``theirs`` as it is read now.

Blocks of the three that share words or ids belong together. Where the clerk has changed nothing in such a group, the new reading stands.
Where he has changed words, looks or kinds, they are changed in the new reading as well. Where he has split, joined or made rows himself,
his rows stay and take the words of the new reading. Rows of pages that were not read again stay as they are.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import (
    Block,
    Document,
    PictureBlock,
    Remark,
    RemarkKind,
    TableBlock,
    TextBlock,
    texts_of,
)
from evenquill.core.rebase.merge_blocks import merged_block, merged_picture, merged_table
from evenquill.core.rebase.merge_sections import merged_sections, with_sections
from evenquill.core.rebase.order import in_order
from evenquill.core.rebase.pieces import Target, pieces_by_target
from evenquill.core.rebase.tokens import Conflict, merged_text
from evenquill.core.rebase.words import WordKey, matched_words
from evenquill.core.union_find import UnionFind


class Rebased(NamedTuple):
    """The merged document; ``unplaced`` says what of the corrections could not be placed, with its text."""

    document: Document
    unplaced: tuple[Remark, ...]


class _Group(NamedTuple):
    """Blocks of the three sides that belong together, each side in its order."""

    base: list[Block]
    mine: list[Block]
    theirs: list[Block]


class _Outcome(NamedTuple):
    """What a group comes to: its blocks, whether they are rows of the clerk's own making, what could not be placed."""

    blocks: list[Block]
    unplaced: list[Remark]


def rebase_corrections(base: Document, mine: Document, theirs: Document, again: frozenset[int]) -> Rebased:
    """``theirs`` with the corrections that made ``mine`` of ``base``; ``again`` are the pages that were read again.

    Blocks of ``theirs`` that are the same as blocks of ``base`` must have their ids (``keep_ids``).
    """
    sides = [{block.id: block for block in side.blocks if _touches(block, again)} for side in (base, mine, theirs)]
    fresh_words = matched_words(_texts(sides[2].values(), again), _texts(sides[0].values(), again))
    my_words = matched_words(_texts(sides[1].values(), again), _texts(sides[0].values(), again))
    groups = _groups(sides, my_words, fresh_words)
    outcomes = [_outcome(group, my_words, fresh_words) for group in groups]
    blocks = in_order(
        base,
        mine,
        theirs,
        [(group.mine, group.theirs, done.blocks) for group, done in zip(groups, outcomes, strict=True)],
    )
    unplaced = tuple(remark for done in outcomes for remark in done.unplaced)
    earlier = tuple(
        remark
        for remark in mine.remarks
        if remark.kind is RemarkKind.NOT_CARRIED_OVER and remark.page not in again and remark not in theirs.remarks
    )
    named = {style.id for style in theirs.styles}
    merged = replace(
        theirs,
        blocks=tuple(with_sections(blocks, base, mine, theirs)),
        sections=merged_sections(base, mine, theirs),
        styles=(*theirs.styles, *(style for style in mine.styles if style.id not in named)),
        remarks=(*theirs.remarks, *earlier, *unplaced),
        settled=mine.settled,
        stand_ins=mine.stand_ins,
    )
    return Rebased(merged, unplaced)


def _touches(block: Block, pages: frozenset[int]) -> bool:
    return any(spot.page in pages for spot in block.spots)


def _texts(blocks: Iterable[Block], pages: frozenset[int]) -> list[TextBlock]:
    return [text for block in blocks for text in texts_of(block) if any(word.page in pages for word in text.words)]


def _groups(
    sides: Sequence[dict[str, Block]], my_words: dict[WordKey, WordKey], fresh_words: dict[WordKey, WordKey]
) -> list[_Group]:
    """Blocks that share words, or an id, in the order in which they come."""
    rows = [{text.id: block.id for block in side.values() for text in texts_of(block)} for side in sides]
    found: UnionFind[tuple[int, str]] = UnionFind()
    for side, blocks in enumerate(sides):
        for name in blocks:
            found.add((side, name))
            if side and name in sides[0]:
                found.join((side, name), (0, name))
    for side, words in ((1, my_words), (2, fresh_words)):
        for (own, _), (known, _) in words.items():
            found.join((side, rows[side][own]), (0, rows[0][known]))
    gathered: dict[tuple[int, str], _Group] = {}
    for side, blocks in enumerate(sides):
        for name, block in blocks.items():
            group = gathered.setdefault(found.root((side, name)), _Group([], [], []))
            group[side].append(block)
    return list(gathered.values())


def _outcome(group: _Group, my_words: dict[WordKey, WordKey], fresh_words: dict[WordKey, WordKey]) -> _Outcome:
    base, mine, theirs = group
    if mine == base:
        return _Outcome(list(theirs), [])
    if not theirs:
        # Nothing is read there any more; what somebody has worked on is not thrown away.
        return _Outcome(list(mine), [_nothing_there(block) for block in mine if base])
    if not mine:
        return _Outcome([] if base else list(theirs), [])
    if all(len(side) == 1 and isinstance(side[0], PictureBlock) for side in group):
        return _Outcome([merged_picture(base[0], mine[0], theirs[0])], [])
    if any(isinstance(block, TableBlock) for side in group for block in side):
        return _tables(group)
    own_structure = not _same_structure(base, mine, my_words)
    if own_structure or len(base) == len(mine) == len(theirs) == 1:
        return _in_my_rows(group, my_words, fresh_words)
    return _in_their_rows(group, my_words, fresh_words)


def _same_structure(base: Sequence[Block], mine: Sequence[Block], my_words: dict[WordKey, WordKey]) -> bool:
    """Whether the clerk has left the rows of a group as they were read: none split, joined, made or taken out."""
    if [block.id for block in base] != [block.id for block in mine]:
        return sorted(block.id for block in base) == sorted(block.id for block in mine) and _words_stay(my_words, mine)
    return _words_stay(my_words, mine)


def _words_stay(my_words: dict[WordKey, WordKey], mine: Sequence[Block]) -> bool:
    ids = {text.id for block in mine for text in texts_of(block)}
    return all(own[0] == known[0] for own, known in my_words.items() if own[0] in ids)


def _tables(group: _Group) -> _Outcome:
    """A table of one shape is merged cell by cell; what the clerk has made of tables otherwise stays."""
    base, mine, theirs = group
    if len(base) == len(mine) == len(theirs) == 1:
        merged = merged_table(base[0], mine[0], theirs[0])
        if merged is not None:
            block, conflicts = merged
            return _Outcome([block], [_conflict(block, one) for one in conflicts])
    unread = [_kept_as_it_was(block) for block in mine if isinstance(block, TableBlock)]
    return _Outcome(list(mine), unread)


def _in_my_rows(group: _Group, my_words: dict[WordKey, WordKey], fresh_words: dict[WordKey, WordKey]) -> _Outcome:
    """The clerk's rows with the words that are read there now."""
    base, theirs = _text_blocks(group.base), _text_blocks(group.theirs)
    row_of_known = {known: own[0] for own, known in my_words.items()}
    base_pieces = pieces_by_target(base, row_of_known.get)
    their_pieces = pieces_by_target(theirs, _by_way_of(fresh_words, row_of_known))
    before = {block.id: block for block in base}
    out: list[Block] = []
    unplaced: list[Remark] = []
    for block in group.mine:
        if not isinstance(block, TextBlock):
            out.append(block)
            continue
        known, read = base_pieces.get(block.id), their_pieces.get(block.id)
        if known is None or read is None:
            out.append(block)
            continue
        merged = merged_text(known, block, read)
        result = merged_block(before.get(block.id), block, merged.block)
        out.append(result)
        unplaced += [_conflict(result, one) for one in merged.conflicts]
    return _Outcome(out, unplaced)


def _in_their_rows(group: _Group, my_words: dict[WordKey, WordKey], fresh_words: dict[WordKey, WordKey]) -> _Outcome:
    """The rows of the new reading with the words and looks that the clerk has changed."""
    base, mine = _text_blocks(group.base), _text_blocks(group.mine)
    row_of_known: dict[WordKey, str] = {known: own[0] for own, known in fresh_words.items()}
    base_pieces = pieces_by_target(base, row_of_known.get)
    my_pieces = pieces_by_target(mine, _by_way_of(my_words, row_of_known))
    before = {block.id: block for block in base}
    now = {block.id: block for block in mine}
    out: list[Block] = []
    unplaced: list[Remark] = []
    for block in group.theirs:
        known = base_pieces.get(block.id)
        changed = my_pieces.get(block.id)
        if not isinstance(block, TextBlock) or known is None or changed is None:
            out.append(block)
            continue
        merged = merged_text(known, changed, block)
        result = merged_block(before.get(known.id), now.get(known.id), merged.block)
        out.append(replace(result, id=block.id))
        unplaced += [_conflict(result, one) for one in merged.conflicts]
    return _Outcome(out, unplaced)


def _text_blocks(blocks: Sequence[Block]) -> list[TextBlock]:
    return [block for block in blocks if isinstance(block, TextBlock)]


def _by_way_of(known_words: dict[WordKey, WordKey], rows: dict[WordKey, str]) -> Target:
    """The row of a word by way of the word that was known in its place."""
    return lambda word: rows.get(known_words[word]) if word in known_words else None


def _page(block: Block) -> int | None:
    return block.spots[0].page if block.spots else None


def _conflict(block: Block, conflict: Conflict) -> Remark:
    page = _page(block)
    said = f"the new reading says “{conflict.theirs}”" if conflict.theirs else "the new reading has nothing there"
    made = f"“{conflict.mine}” stays as it was corrected" if conflict.mine else "what was taken out there stays out"
    return Remark(RemarkKind.NOT_CARRIED_OVER, f"Page {page}: {made}; {said}.", page)


def _nothing_there(block: Block) -> Remark:
    page = _page(block)
    text = " ".join(text.readable for text in texts_of(block))
    sentence = f"Page {page}: the new reading finds nothing where “{text}” stands; the row stays as it was corrected."
    return Remark(RemarkKind.NOT_CARRIED_OVER, sentence, page)


def _kept_as_it_was(block: TableBlock) -> Remark:
    page = _page(block)
    text = block.texts[0].readable if block.texts else ""
    sentence = f"Page {page}: the table that begins “{text}” stays as it was corrected; what was read anew there was not taken."
    return Remark(RemarkKind.NOT_CARRIED_OVER, sentence, page)
