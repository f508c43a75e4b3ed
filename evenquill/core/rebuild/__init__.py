"""Rebuild: the layout of all pages -> one document of paragraphs, headings, lists, notes and pictures."""

from evenquill.core.rebuild.document import rebuild

__all__ = ["rebuild"]
