"""What a file is, by its first bytes, and what it says of itself."""

from __future__ import annotations

import zipfile
import zlib
from pathlib import Path
from typing import BinaryIO

from evenquill.core.errors import DamagedSource, EmptySource, TooLarge, UnsupportedSource
from evenquill.core.source.facts import DOCX, ODT, PDF, SourceFacts
from evenquill.core.source.images import examine_images
from evenquill.core.source.pdf import examine_pdf

HEADER_WINDOW = 1024
"""ISO 32000-1, annex H.3.4.1: a PDF's header may stand anywhere in the first 1,024 bytes."""

MOST_BYTES = 1_000_000_000
"""More than any scan bundle seen in an office; a larger file is more likely a mistake than a document."""

TIFF, PNG, JPEG, WEBP, HEIC = "image/tiff", "image/png", "image/jpeg", "image/webp", "image/heic"

HEIC_BRANDS = frozenset((b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"mif1", b"msf1", b"avif"))
"""Brands of ISO 23008-12 files that hold still pictures."""


ZIP, COMPOUND = b"PK\x03\x04", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
"""How packages of word-processor files begin, and how those do that are locked or of an older form."""

LISTED = 1 << 20
"""Bytes of a package's list of types that are looked at: it has some kilobytes."""

KINDS = "a PDF, a picture (TIFF, PNG, JPEG, WebP, HEIC) or a word-processor file (DOCX, ODT)"
"""What can be read, in words."""


def examine(path: Path, *, password: str | None = None, repair_into: Path | None = None) -> SourceFacts:
    """Facts about the PDF or the picture at ``path``.

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
    if start.startswith(ZIP):
        return media_of_package(path)
    if start.startswith(COMPOUND):
        raise UnsupportedSource(
            "This word-processor file is locked by a password, or of an older form. Save it as DOCX without a password and try again."
        )
    raise UnsupportedSource(f"This is not {KINDS}, so it cannot be read.")


def media_of_package(file: Path | BinaryIO) -> str:
    """Which sort of word-processor file a package is. Raises DamagedSource and UnsupportedSource."""
    try:
        with zipfile.ZipFile(file) as package:
            kind, types = (_start_of(package, name) for name in ("mimetype", "[Content_Types].xml"))
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, OSError, EOFError, ValueError, zlib.error):
        raise DamagedSource("The file is broken: it is a package that cannot be unpacked.") from None
    if kind.strip().removesuffix(b"-template") == ODT.encode():
        return ODT
    if b"wordprocessingml" in types:
        return DOCX
    raise UnsupportedSource(f"This is not {KINDS}, so it cannot be read.")


def _start_of(package: zipfile.ZipFile, name: str) -> bytes:
    """The start of a part of a package, nothing where there is none."""
    if name not in package.namelist():
        return b""
    with package.open(name) as part:
        return part.read(LISTED)
