"""Documents as RTF (Rich Text Format 1.9.1), for programs that read nothing newer."""

from evenquill.core.writers.rtf.writer import write_rtf

__all__ = ["write_rtf"]
