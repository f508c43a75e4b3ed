"""Cleaning: each step finds out whether it is needed, and does one thing to the picture of a page."""
