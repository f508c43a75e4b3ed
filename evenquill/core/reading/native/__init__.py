"""The native reader: what a PDF page says of itself, by way of PDFium."""

from evenquill.core.reading.native.page import page_as_picture, read_page

__all__ = ["page_as_picture", "read_page"]
