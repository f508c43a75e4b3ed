"""What a line may be, and how it may be joined to the one above it."""

from __future__ import annotations

ROLES = (
    "text",
    "heading",
    "item",
    "caption",
    "note",
    "contents",
    "code",
    "quotation",
    "verse",
    "term",
    "meaning",
    "cell",
    "pairs",
    "lines",
)
"""``meaning`` is what a term means, ``pairs`` are labels with values beside them, ``lines`` stay lines, as those of an address do."""

JOINTS = ("new", "same", "break")
"""A new paragraph begins, the same goes on, or it goes on after a break that was made on purpose."""
