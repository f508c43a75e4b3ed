"""DOCX (ECMA-376, WordprocessingML): real styles, real numbering, real notes, running heads with page fields."""

from evenquill.core.writers.docx.writer import write_docx

__all__ = ["write_docx"]
