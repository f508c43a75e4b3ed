"""Symbols with their places -> the tree of an equation, whichever reader found the symbols.

Structure is told by baselines, sizes and what governs what, from the inside out (after Zanibbi, Blostein and Cordy 2002, "Recognizing
mathematical expressions using tree transformation"): pieces of tall signs, bars of roots and fractions, fences with grids in them, lines,
and in each line accents, bounds and scripts.
"""
