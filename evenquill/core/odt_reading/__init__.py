"""OpenDocument text files read into documents: those that were delivered from here and edited elsewhere, and any others."""

from evenquill.core.odt_reading.reader import read_odt

__all__ = ["read_odt"]
