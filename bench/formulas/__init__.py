"""Formulas made by a grammar, set by TeX and typst in several typefaces, and read: how many come out as they were."""
