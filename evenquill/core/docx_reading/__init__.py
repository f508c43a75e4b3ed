"""DOCX files read into documents: those that were delivered from here and edited elsewhere, and any others."""

from evenquill.core.docx_reading.reader import read_docx

__all__ = ["read_docx"]
