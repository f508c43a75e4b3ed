"""What the clerk can do with tab stops."""

from __future__ import annotations

import msgspec

from evenquill.core.model import TabStop


class SetTabs(msgspec.Struct, frozen=True, tag="tabs", tag_field="op"):
    """Gives a text block other tab stops."""

    block: str
    tabs: tuple[TabStop, ...]


class LineUp(msgspec.Struct, frozen=True, tag="line_up", tag_field="op"):
    """Gives rows of text the same tab stops; wide gaps and rows of dots in them become tabs."""

    blocks: tuple[str, ...]


TabOperation = SetTabs | LineUp
"""All of them."""
