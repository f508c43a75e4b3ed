"""What the clerk can do with rows that were copied."""

from __future__ import annotations

import msgspec

from evenquill.core.model import ResolvedStyle, TableBlock, TextBlock


class PutRows(msgspec.Struct, frozen=True, tag="put_rows", tag_field="op"):
    """Puts copies of rows behind a row, or first where ``after`` is None; ``styles`` are the looks that they had where they come from."""

    after: str | None
    blocks: tuple[TextBlock | TableBlock, ...]
    styles: tuple[ResolvedStyle, ...] = ()
