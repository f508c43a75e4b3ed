"""Formulas of scanned pages: their symbols recognised, then found and put together as on native pages."""
