"""Pages that were read, or put together, badly as a whole: one query in the place of hundreds."""

from __future__ import annotations

from collections import Counter
from typing import NamedTuple

from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.view import BadPage, View

READ = Kind("page", "page read badly", "pages read badly", 80)
PUT_TOGETHER = Kind("page rows", "page put together with doubts", "pages put together with doubts", 79)
KINDS = (READ, PUT_TOGETHER)


class _Sort(NamedTuple):
    """A sort of bad pages: its kind of query, the kinds that are gathered in it, how many of them there are at least, with which
    likelihood and in which share of a page's words or rows; and what is said of it."""

    kind: Kind
    of: frozenset[str]
    many: int
    share: float
    likely: float
    reason: str
    keep: str


_SORTS = (
    _Sort(
        READ, frozenset(("word", "number")), 30, 0.3, 0.3,
        "{count} of its {whole} words are doubtful. Read the page again with another language or preparation.", "ask word by word",
    ),
    _Sort(
        PUT_TOGETHER, frozenset(("other kind", "two rows", "carries on")), 10, 0.2, 0.0,
        "{count} of its {whole} rows may be of another kind, be two, or carry on others. See on the sheet how it is laid out.",
        "ask row by row",
    ),
)  # fmt: skip


def gathered(view: View, found: list[Query]) -> list[Query]:
    """The queries with those on words, or on rows, of bad pages made one for each page, unless the clerk wants to see them one by one."""
    for sort in _SORTS:
        found = _gathered(view, found, sort)
    return found


def _gathered(view: View, found: list[Query], sort: _Sort) -> list[Query]:
    if view.bad_pages is not None:
        bad = {page for kind, page in view.bad_pages if kind == sort.kind.name}
        return [query for query in found if query.page not in bad or query.kind not in sort.of]
    on_page = Counter(query.page for query in found if query.kind in sort.of and query.likelihood >= sort.likely)
    many = [page for page, count in on_page.items() if count >= sort.many]
    if not many:
        return found
    whole = _words(view) if sort.kind is READ else _rows(view)
    out = found
    for page in many:
        if on_page[page] < sort.share * whole[page]:
            continue
        one = Query(
            kind=sort.kind.name,
            page=page,
            text=f"page {page}",
            likelihood=0.95,
            reason=sort.reason.format(count=on_page[page], whole=whole[page]),
            keep=sort.keep,
        )
        if one.key not in view.kept:
            out = [one, *(query for query in out if query.page != page or query.kind not in sort.of)]
    return out


def _words(view: View) -> Counter[int]:
    return Counter(token.spots[0].page for row in view.rows for token in row if token.spots)


def _rows(view: View) -> Counter[int]:
    return Counter(block.spots[0].page for block in view.blocks if block.spots and not block.excluded)


def bad_page_of(query: Query) -> BadPage | None:
    """The bad page that a query is about; None for one about something else."""
    return (query.kind, query.page) if any(query.kind == kind.name for kind in KINDS) else None
