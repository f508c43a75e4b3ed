"""What a file is, by its first bytes, and what it says of itself."""

from __future__ import annotations

from pathlib import Path

from evenquill.core.errors import EmptySource, TooLarge, UnsupportedSource
from evenquill.core.source.facts import PDF, SourceFacts
from evenquill.core.source.images import examine_images
from evenquill.core.source.pdf import examine_pdf

HEADER_WINDOW = 1024
"""ISO 32000-1, annex H.3.4.1: a PDF's header may stand anywhere in the first 1,024 bytes."""

MOST_BYTES = 1_000_000_000
"""More than any scan bundle seen in an office; a larger file is more likely a mistake than a document."""

TIFF, PNG, JPEG, WEBP, HEIC = "image/tiff", "image/png", "image/jpeg", "image/webp", "image/heic"

HEIC_BRANDS = frozenset((b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"mif1", b"msf1", b"avif"))
"""Brands of ISO 23008-12 files that hold still pictures."""


def examine(path: Path, *, password: str | None = None, repair_into: Path | None = None) -> SourceFacts:
    """Facts about the file at ``path``.

    ``repair_into`` is where a mended copy of a damaged PDF may be written; None means that a damaged file is an error.
    Raises EmptySource, UnsupportedSource, DamagedSource, TooLarge, PasswordNeeded or WrongPassword.
    """
    media = media_of(path)
    if media == PDF:
        return examine_pdf(path, password=password, repair_into=repair_into)
    return examine_images(path, media)


def media_of(path: Path) -> str:
    """Media type of a file that can be read; raises EmptySource, TooLarge or UnsupportedSource."""
    size = path.stat().st_size
    if size == 0:
        raise EmptySource("The file is empty: it holds no bytes.")
    if size > MOST_BYTES:
        raise TooLarge(
            f"The file has {size / 1e9:.1f} GB; up to {MOST_BYTES / 1e9:.0f} GB can be taken. Split it and try again."
        )
    with path.open("rb") as file:
        start = file.read(HEADER_WINDOW)
    if start[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
        return TIFF
    if start.startswith(b"\x89PNG\r\n\x1a\n"):
        return PNG
    if start.startswith(b"\xff\xd8\xff"):
        return JPEG
    if start[:4] == b"RIFF" and start[8:12] == b"WEBP":
        return WEBP
    if start[4:8] == b"ftyp" and start[8:12] in HEIC_BRANDS:
        return HEIC
    if b"%PDF-" in start:
        return PDF
    raise UnsupportedSource("This is neither a PDF nor a picture (TIFF, PNG, JPEG, WebP, HEIC), so it cannot be read.")
