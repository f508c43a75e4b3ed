"""What a change makes of the doubts about a document: only what it can alter is looked at again.

These are the rows that it touched, the rows with doubts on words that it listed, the doubts that it kept or brought back, and the pages
that it wants asked about word by word.
"""

from __future__ import annotations

import sqlite3
from collections import Counter
from collections.abc import Collection, Iterable, Sequence
from typing import NamedTuple, TypeVar

import msgspec

from evenquill.core.model import Block, Document, DoubtKey, names_of, texts_of
from evenquill.core.queries import Query, View, queries_in
from evenquill.core.queries.bad_pages import KINDS, bad_page_of
from evenquill.core.queries.kept import KeptDoubts
from evenquill.core.queries.office import OfficeWords
from evenquill.core.queries.view import BadPage
from evenquill.core.queries.word_measures import Vouchers
from evenquill.desk.office_words import OfficeWordList
from evenquill.desk.open_documents import OpenDocument
from evenquill.store import queries
from evenquill.store.proofs import Difference

T = TypeVar("T")

ANSWERS_AT_HAND = 5000
"""Queries of a document up to which all are looked through for answers that need not be found anew."""


class PlacedQuery(msgspec.Struct, frozen=True):
    """A query with ``place``, that of its row or of the first row of its page; ``left`` says that it was left for later.

    ``key`` is by what it is remembered where it is kept.
    """

    id: str
    key: DoubtKey
    query: Query
    place: int
    left: bool


class DoubtChange(NamedTuple):
    """What a change did to the queries: ids of those that are gone, those that came or changed, and how many it settled: that are gone
    and did not come again elsewhere."""

    gone: tuple[str, ...]
    come: tuple[Query, ...]
    settled: int


def doubts_after(opened: OpenDocument, after: Document, change: Difference, office: OfficeWordList) -> DoubtChange:
    """What a change makes of the queries of an open document. Nothing is written."""
    before, places = opened.proof, after.places
    old, new = before.settled, after.settled
    keys, words = _either(old.kept, new.kept), _either(old.words, new.words)
    brought_back = bool(set(old.kept) - set(new.kept)) if keys else False
    forgotten = bool(set(old.words) - set(new.words)) if words else False
    kept = opened.kept if not keys else KeptDoubts(new.kept)
    whole_pages = {kind.name for kind in KINDS}
    judged_anew = {key.page for key in keys if key.kind in whole_pages}
    touched = {name for block in change.blocks for name in names_of(block)}
    looked_at = set(touched)
    if keys or words:
        looked_at |= _rows_with(opened.queries.values(), keys, words)
        if brought_back or forgotten:
            looked_at |= _rows_to_ask_again(after, keys if brought_back else set(), words if forgotten else set())
    rows = {places[name] for name in looked_at if name in places}
    blocks = [after.blocks[place] for place in sorted(rows)]
    looked_at |= {name for block in blocks for name in names_of(block)}
    removed = {name for block in before.blocks[change.at : change.at + change.removed] for name in names_of(block)}
    removed -= {name for block in change.blocks for name in names_of(block)}
    found = _found(opened, after, blocks, judged_anew, kept, office.words(), opened.vouchers(office))
    if judged_anew:
        looked_at |= {name for block in _on_pages(after, judged_anew) for name in names_of(block)}
    fresh = {query.id: query for query in found}
    gone = [
        id
        for id, query in opened.queries.items()
        if id not in fresh and _is_over(query, looked_at, removed, judged_anew)
    ]
    come = [query for id, query in fresh.items() if opened.queries.get(id) != query]
    names_gone = Counter((opened.queries[id].kind, opened.queries[id].page, opened.queries[id].text) for id in gone)
    settled = names_gone - Counter((query.kind, query.page, query.text) for query in come)
    return DoubtChange(tuple(gone), tuple(come), settled.total())


def take_doubts(opened: OpenDocument, doubts: DoubtChange) -> None:
    """Keeps in memory what a change made of the queries, when it is written."""
    for id in doubts.gone:
        gone = opened.queries.pop(id, None)
        if gone is not None:
            opened.past[id] = gone
    opened.queries.update((query.id, query) for query in doubts.come)


def _either(one: tuple[T, ...], other: tuple[T, ...]) -> set[T]:
    """What is in one of two lists alone; most changes leave both as they are, or add at the end."""
    if one is other:
        return set()
    if other[: len(one)] == one:
        return set(other[len(one) :])
    return set(one) ^ set(other)


def _rows_with(queries: Iterable[Query], keys: Collection[DoubtKey], words: Collection[str]) -> set[str]:
    """The rows of queries that were kept, or that are on words that were listed."""
    told = {(key.kind, key.page, key.text) for key in keys}
    return {
        query.block
        for query in queries
        if query.block
        and ((query.kind, query.page, query.key.text) in told or any(word in query.text for word in words))
    }


def _rows_to_ask_again(after: Document, keys: Collection[DoubtKey], words: Collection[str]) -> set[str]:
    """The rows in which doubts may come back: on their pages, or with words that are no longer listed."""
    pages = {key.page for key in keys}
    out: set[str] = set()
    for block in after.blocks:
        if any(spot.page in pages for spot in block.spots) or (
            words and any(word in text.text for text in texts_of(block) for word in words)
        ):
            out.update(names_of(block))
    return out


def _on_pages(after: Document, pages: Collection[int]) -> list[Block]:
    return [block for block in after.blocks if any(spot.page in pages for spot in block.spots)]


def _found(
    opened: OpenDocument,
    after: Document,
    blocks: list[Block],
    judged_anew: Collection[int],
    kept: KeptDoubts,
    listed: OfficeWords,
    vouchers: Vouchers,
) -> list[Query]:
    """The queries on some rows as they are after a change, and those that are on no row."""
    before_now = [*opened.past.values(), *(opened.queries.values() if len(opened.queries) < ANSWERS_AT_HAND else ())]
    bad = frozenset(page for query in opened.queries.values() if (page := bad_page_of(query)) is not None)

    def view(some: list[Block], bad_pages: frozenset[BadPage] | None) -> View:
        return View(after, listed, some, vouchers, bad_pages, before_now, kept=kept, look_doubts=opened.look_doubts)

    if not judged_anew:
        return queries_in(view(blocks, bad))
    on_page = _on_pages(after, judged_anew)
    judged = {block.id for block in on_page}
    found = queries_in(view(on_page, None))
    return found + queries_in(
        view(
            [block for block in blocks if block.id not in judged],
            frozenset(one for one in bad if one[1] not in judged_anew),
        )
    )


def _is_over(query: Query, looked_at: set[str], removed: set[str], judged_anew: set[int]) -> bool:
    """Whether a query that was not found again has nothing to stand on any more."""
    if bad_page_of(query) is not None:
        return query.page in judged_anew
    return not query.block or query.block in looked_at or query.block in removed


def placed(found: Sequence[Query], proof: Document, left: Collection[str]) -> list[PlacedQuery]:
    """Queries with the places of their rows; those with ids in ``left`` were left for later."""
    first: dict[int, int] = {}
    if any(not query.block for query in found):
        for place, block in enumerate(proof.blocks):
            if block.spots:
                first.setdefault(block.spots[0].page, place)
    places = proof.places
    return [
        PlacedQuery(query.id, query.key, query, places.get(query.block, first.get(query.page, 0)), query.id in left)
        for query in found
    ]


def every_query(store: sqlite3.Connection, opened: OpenDocument) -> list[PlacedQuery]:
    """All queries of a document, in the order of its text."""
    every = queries.every(store, opened.id)
    left = {query.id for query, was_left in every if was_left}
    found = placed([query for query, _ in every], opened.proof, left)
    return sorted(found, key=lambda one: (one.place, bool(one.query.block), one.query.start))


def get_ready(opened: OpenDocument, office: OfficeWordList) -> None:
    """Gets ready what the first change will need: word lists take their time to be loaded."""
    view = View(opened.proof, office.words(), (), opened.vouchers(office))
    for page in range(1, len(opened.proof.pages) + 1):
        view.words(page).knows("ready")
