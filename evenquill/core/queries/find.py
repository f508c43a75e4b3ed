"""All queries of a document, in the order of its text."""

from __future__ import annotations

from evenquill.core.languages import short_code
from evenquill.core.model import Document
from evenquill.core.queries.lexicon import lexicon
from evenquill.core.queries.query import Query
from evenquill.core.queries.tokens import tokens
from evenquill.core.queries.words import word_queries


def find_queries(document: Document) -> list[Query]:
    """Where the document is probably wrong, and what it may say instead."""
    return list(word_queries(list(tokens(document)), lexicon(short_code(document.language))))
