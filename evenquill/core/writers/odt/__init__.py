"""Documents as OpenDocument text (ODT, ISO/IEC 26300)."""

from evenquill.core.writers.odt.writer import write_odt

__all__ = ["write_odt"]
