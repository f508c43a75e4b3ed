"""Pages that were read badly as a whole: one query in the place of hundreds."""

from __future__ import annotations

from collections import Counter

from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.view import View

KIND = Kind("page", "page read badly", "pages read badly", 80)

MANY, SHARE, LIKELY = 30, 0.3, 0.3
"""Queries on words of a page, and their share of its words, from which the page as a whole was read badly; and the likelihood from
which they count."""

ON_WORDS = frozenset(("word", "number"))


def gathered(view: View, found: list[Query]) -> list[Query]:
    """The queries with those on words of bad pages made one for each page, unless the clerk wants to see its words one by one."""
    if view.bad_pages is not None:
        return [query for query in found if query.page not in view.bad_pages or query.kind not in ON_WORDS]
    on_page = Counter(query.page for query in found if query.kind in ON_WORDS and query.likelihood >= LIKELY)
    many = [page for page, count in on_page.items() if count >= MANY]
    if not many:
        return found
    words = Counter(token.spots[0].page for row in view.rows for token in row if token.spots)
    out = found
    for page in many:
        if on_page[page] < SHARE * words[page]:
            continue
        one = Query(
            kind=KIND.name,
            page=page,
            text=f"page {page}",
            likelihood=0.95,
            reason=f"{on_page[page]} of its {words[page]} words are doubtful. Read the page again with another language or preparation.",
            keep="ask word by word",
        )
        if one.key not in view.kept:
            out = [one, *(query for query in out if query.page != page or query.kind not in ON_WORDS)]
    return out
