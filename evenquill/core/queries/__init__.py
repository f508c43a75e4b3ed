"""Doubts about a document: where it is probably wrong, how likely, and what it may say instead. One module for each kind."""

from evenquill.core.queries.find import find_queries
from evenquill.core.queries.query import Query, QueryKind

__all__ = ["Query", "QueryKind", "find_queries"]
