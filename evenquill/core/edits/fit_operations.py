"""What the clerk can do to make a document fit its pages."""

from __future__ import annotations

import msgspec


class FitPages(msgspec.Struct, frozen=True, tag="fit_pages", tag_field="op"):
    """Sets lines and rows nearer together, or further apart, by a factor, makes letters of all styles smaller or larger by another one, and
    begins pages with ``starts``, rows by their ids."""

    spacing: float = 1.0
    size: float = 1.0
    starts: tuple[str, ...] = ()
