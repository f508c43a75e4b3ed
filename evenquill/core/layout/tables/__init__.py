"""Tables: those that a grid is drawn around (``ruled.py``), and those that rows and columns show (``regions.py``)."""

from evenquill.core.layout.tables.find import ruled_tables
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.layout.tables.regions import tables_in_column

__all__ = ["PlacedCell", "PlacedTable", "ruled_tables", "tables_in_column"]
