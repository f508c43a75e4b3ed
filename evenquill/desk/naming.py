"""Names of documents and files, as they come from outside and as they go out again."""

from __future__ import annotations

import re
import unicodedata

LONGEST_NAME = 300
"""Characters of a document's name."""

LONGEST_FILE_NAME = 120
"""Characters of a delivered file's name; file systems take 255 bytes."""


def document_name(given: str) -> str:
    """A name for the in-tray: the last part of a path, without control characters, not longer than can be shown."""
    name = re.split(r"[/\\]", given)[-1]
    name = "".join(c for c in name if unicodedata.category(c)[0] != "C").strip()
    return name[:LONGEST_NAME] or "Document without a name"


def file_name(name: str, extension: str, addition: str = "") -> str:
    """A file name that every system takes, made from a document's name and what is added to it."""
    stem = re.sub(r"\.(pdf|tiff?|png|jpe?g|webp|heic)$", "", document_name(name), flags=re.I) + addition
    stem = re.sub(r'[<>:"|?*]+', "_", stem).strip(" .") or "document"
    return f"{stem[:LONGEST_FILE_NAME].rstrip()}.{extension}"
