"""The typefaces that PDFs are set in."""

from __future__ import annotations

from functools import cache

import typst


@cache
def installed_fonts() -> typst.Fonts:
    """Those of this machine, looked for once: looking for them takes longer than setting a page."""
    return typst.Fonts()
