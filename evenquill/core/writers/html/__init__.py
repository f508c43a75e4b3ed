"""Documents as HTML: one file with its looks and pictures, that any browser shows and a screen reader reads; and as EPUB."""

from evenquill.core.writers.html.epub import write_epub
from evenquill.core.writers.html.writer import write_html

__all__ = ["write_epub", "write_html"]
