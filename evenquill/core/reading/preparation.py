"""How a page is to be read: what the clerk can choose for a document or a page. Everything left alone is found out."""

from __future__ import annotations

from enum import StrEnum

import msgspec


class Trust(StrEnum):
    """What the text of a page is taken from."""

    AUTO = "auto"
    TEXT = "text"
    PICTURE = "picture"


class Preparation(msgspec.Struct, frozen=True, omit_defaults=True):
    """Choices for reading a page.

    ``languages`` are codes as in ``eng``; none means that they are found. ``turn`` is in degrees clockwise, None for found.
    The cleaning steps are each done where they help, unless switched off.
    """

    languages: tuple[str, ...] = ()
    trust: Trust = Trust.AUTO
    turn: int | None = None
    straighten: bool = True
    flatten: bool = True
    even_light: bool = True
    despeckle: bool = True


AS_FOUND = Preparation()
