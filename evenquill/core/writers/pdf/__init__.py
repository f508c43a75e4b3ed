"""Documents as PDF, set by typst: tagged, with bookmarks, links and notes."""

from evenquill.core.writers.pdf.writer import write_pdf

__all__ = ["write_pdf"]
