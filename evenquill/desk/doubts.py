"""The doubts about open proofs: found anew where a change has touched the text, and kept in step with it.

What a change can alter is looked at again, and nothing else: the rows it touched, the rows with words that it listed, the pages whose
doubts it kept or brought back.
"""

from __future__ import annotations

import threading
from collections import Counter, OrderedDict
from collections.abc import Collection, Iterable, Sequence
from typing import TYPE_CHECKING, NamedTuple

import msgspec

from evenquill.core.edits.names import page_of
from evenquill.core.model import Block, Document, names_of, texts_of
from evenquill.core.queries import Query, View, queries_in
from evenquill.core.queries.bad_pages import KIND as BAD_PAGE
from evenquill.core.queries.likelihood import Vouchers
from evenquill.core.queries.office import OfficeWords, office_words
from evenquill.store import office, queries

if TYPE_CHECKING:
    from evenquill.desk.house import House

OPEN_DOCUMENTS = 4


class Standing(msgspec.Struct, frozen=True):
    """A query as it stands: ``place`` is that of its row, or of the first row of its page; ``left`` says that it was left for later.

    ``name`` is what it is called where it is kept.
    """

    id: str
    name: str
    query: Query
    place: int
    left: bool


class Doubted(NamedTuple):
    """What a change did to the queries: ids of those that are gone, those that came or changed, and the names of those that it settled:
    that are gone and did not come again elsewhere."""

    gone: tuple[str, ...]
    come: tuple[Query, ...]
    settled: tuple[str, ...]


class _Open(NamedTuple):
    """The queries of a document by id, and what its words say of one another; ``past`` are those that are gone: undo may bring them
    back, and their answers took time to find."""

    queries: dict[str, Query]
    vouchers: Vouchers
    past: dict[str, Query]


class Doubts:
    """The doubts about the last few documents that were worked on."""

    def __init__(self, house: House) -> None:
        self._house = house
        self._open: OrderedDict[str, _Open] = OrderedDict()
        self._lock = threading.Lock()

    def standing(self, document: str, proof: Document) -> list[Standing]:
        """All queries of a document, in the order of its text."""
        every = queries.every(self._house.store, document)
        left = {query.id for query, was_left in every if was_left}
        standing = placed([query for query, _ in every], proof, left)
        return sorted(standing, key=lambda one: (one.place, bool(one.query.block), one.query.start))

    def ready(self, document: str, proof: Document) -> None:
        """Gets ready what the first change will need: word lists take their time to be loaded."""
        opened = self._opened(document, proof)
        view = View(proof, self._office(), (), opened.vouchers)
        for page in range(1, len(proof.pages) + 1):
            view.words(page).knows("ready")

    def forget(self, document: str) -> None:
        with self._lock:
            self._open.pop(document, None)

    def after(self, document: str, before: Document, after: Document, touched: Iterable[Block]) -> Doubted:
        """What a change makes of the queries; ``touched`` are the rows as they are now. Nothing is written."""
        opened = self._opened(document, before)
        old, new = before.settled, after.settled
        names = set(old.kept) ^ set(new.kept)
        words = set(old.words) ^ set(new.words)
        pages = {page_of(name) for name in names}
        bad = frozenset(query.page for query in opened.queries.values() if query.kind == BAD_PAGE.name)
        judged_anew = {
            page
            for page in pages
            if any(name.startswith(BAD_PAGE.name + "|") and page_of(name) == page for name in names)
        }
        there = {name for block in after.blocks for name in names_of(block)}
        looked_at = {name for block in touched for name in names_of(block)}
        for block in after.blocks:
            texts = texts_of(block)
            if block.id in looked_at or not texts:
                continue
            if any(spot.page in pages for spot in block.spots) or any(
                word in text.text for text in texts for word in words
            ):
                looked_at.update(names_of(block))
        blocks = [block for block in after.blocks if block.id in looked_at]
        listed = self._office()
        before_now = [*opened.past.values(), *opened.queries.values()]
        if judged_anew:
            on_page = [block for block in after.blocks if any(spot.page in judged_anew for spot in block.spots)]
            judged = {block.id for block in on_page}
            looked_at |= {name for block in on_page for name in names_of(block)}
            found = queries_in(View(after, listed, on_page, opened.vouchers, before=before_now))
            blocks = [block for block in blocks if block.id not in judged]
            found += queries_in(View(after, listed, blocks, opened.vouchers, bad - judged_anew, before_now))
        else:
            found = queries_in(View(after, listed, blocks, opened.vouchers, bad, before_now))
        fresh = {query.id: query for query in found}
        gone = [
            id
            for id, query in opened.queries.items()
            if id not in fresh and self._is_over(query, looked_at, there, judged_anew)
        ]
        come = [query for id, query in fresh.items() if opened.queries.get(id) != query]
        names_gone = Counter(opened.queries[id].name for id in gone)
        settled = names_gone - Counter(query.name for query in come)
        return Doubted(tuple(gone), tuple(come), tuple(settled.elements()))

    def _is_over(self, query: Query, looked_at: set[str], there: set[str], judged_anew: set[int]) -> bool:
        """Whether a query that was not found again has nothing to stand on any more."""
        if query.kind == BAD_PAGE.name:
            return query.page in judged_anew
        return not query.block or query.block in looked_at or query.block not in there

    def take(self, document: str, doubted: Doubted) -> None:
        """Keeps what ``after`` said, when it is written."""
        with self._lock:
            opened = self._open.get(document)
        if opened is None:
            return
        for id in doubted.gone:
            gone = opened.queries.pop(id, None)
            if gone is not None:
                opened.past[id] = gone
        opened.queries.update((query.id, query) for query in doubted.come)

    def _opened(self, document: str, proof: Document) -> _Open:
        with self._lock:
            known = self._open.get(document)
            if known is not None:
                self._open.move_to_end(document)
                return known
        kept = {query.id: query for query, _ in queries.every(self._house.store, document)}
        fresh = _Open(kept, View(proof, self._office()).vouchers, {})
        with self._lock:
            self._open[document] = fresh
            while len(self._open) > OPEN_DOCUMENTS:
                self._open.popitem(last=False)
        return fresh

    def _office(self) -> OfficeWords:
        return office_words(office.every(self._house.store))


def placed(found: Sequence[Query], proof: Document, left: Collection[str] = ()) -> list[Standing]:
    """Queries with the places of their rows; those with ids in ``left`` were left for later."""
    rows: dict[str, int] = {}
    first: dict[int, int] = {}
    for place, block in enumerate(proof.blocks):
        rows.update((name, place) for name in names_of(block))
        if block.spots:
            first.setdefault(block.spots[0].page, place)
    return [
        Standing(query.id, query.name, query, rows.get(query.block, first.get(query.page, 0)), query.id in left)
        for query in found
    ]
