"""All queries of a document, in the order of its text. Each module of the folder ``kinds`` is a kind of doubt, and is found by being there.

A kind has ``KIND``, its wording, and ``find``, which takes a View and yields queries.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Iterator, Set
from functools import cache
from importlib import import_module
from typing import NamedTuple

from evenquill.core.garbage_collection import fewer_garbage_collections
from evenquill.core.model import Document
from evenquill.core.queries import bad_pages
from evenquill.core.queries import kinds as _folder
from evenquill.core.queries.office import OfficeWords
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.view import View


class _Module(NamedTuple):
    kinds: tuple[Kind, ...]
    find: Callable[[View], Iterator[Query]]


@cache
def _modules() -> tuple[_Module, ...]:
    names = sorted(module.name for module in pkgutil.iter_modules(_folder.__path__))
    modules = [import_module(f"{_folder.__name__}.{name}") for name in names]
    return tuple(_Module(tuple(module.KINDS), module.find) for module in modules)


@cache
def kinds() -> tuple[Kind, ...]:
    """All kinds of doubt, in the order of lists."""
    every = [*bad_pages.KINDS, *(kind for module in _modules() for kind in module.kinds)]
    return tuple(sorted(every, key=lambda kind: kind.order))


def find_queries(
    document: Document, office: OfficeWords | None = None, of_kinds: Set[str] | None = None
) -> list[Query]:
    """Where the document is probably wrong, and what it may say instead, in the order of its text; of all kinds, or of these alone."""
    view = View(document, office or OfficeWords())
    first: dict[int, int] = {}
    for place, block in enumerate(document.blocks):
        if block.spots:
            first.setdefault(block.spots[0].page, place)
    order = document.order

    def comes(query: Query) -> tuple[int, bool, int]:
        at = first.get(query.page)
        on_page = order[document.blocks[at].id] if at is not None else 0
        return order.get(query.block, on_page), bool(query.block), query.start

    return sorted(queries_in(view, of_kinds), key=comes)


@fewer_garbage_collections()
def queries_in(view: View, of_kinds: Set[str] | None = None) -> list[Query]:
    """The queries on the blocks that a view looks at, and those that are on no block; those of bad pages are gathered into one."""
    modules = [
        module for module in _modules() if of_kinds is None or any(kind.name in of_kinds for kind in module.kinds)
    ]
    found = [
        query
        for module in modules
        for query in module.find(view)
        if query.key not in view.kept and (of_kinds is None or query.kind in of_kinds)
    ]
    return _one_each(bad_pages.gathered(view, found))


def _one_each(found: list[Query]) -> list[Query]:
    """Of several queries on one place the likeliest."""
    best: dict[tuple[str, int, int], Query] = {}
    for query in found:
        place = (query.block or query.id, query.start, query.end)
        if place not in best or query.likelihood > best[place].likelihood:
            best[place] = query
    return list(best.values())
