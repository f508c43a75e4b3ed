"""Doubts about a document: where it is probably wrong, how likely, and what it may say instead. One module for each kind."""

from evenquill.core.queries.find import find_queries, kinds, queries_in
from evenquill.core.queries.query import Fix, Kind, Query, Typing
from evenquill.core.queries.view import View

__all__ = ["Fix", "Kind", "Query", "Typing", "View", "find_queries", "kinds", "queries_in"]
