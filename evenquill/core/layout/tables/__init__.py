"""Tables: found by their rules or by how their columns stand in line; see ``find.py``."""

from evenquill.core.layout.tables.find import aligned_tables, ruled_tables
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable

__all__ = ["PlacedCell", "PlacedTable", "aligned_tables", "ruled_tables"]
