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


PLACES = ("name", "title", "date", "revision", "pages")
"""What can stand in a pattern of file names, in braces."""


class WrongPattern(ValueError):
    """A pattern of file names that asks for what is not known; its text is a sentence."""


def named_by(pattern: str, **known: str) -> str:
    """A name by a pattern such as ``{date} {name}``, with what is known of the document (PLACES). Raises WrongPattern."""

    def put(match: re.Match[str]) -> str:
        if match[1] not in known:
            raise WrongPattern(
                f"{{{match[1]}}} is not known. Names can have {', '.join(f'{{{place}}}' for place in PLACES)}."
            )
        return known[match[1]]

    made = document_name(re.sub(r"\{([^{}]*)\}", put, pattern).replace("/", "_").replace("\\", "_"))
    return made if pattern.strip() else known["name"]


def without_ending(name: str) -> str:
    """The name of a document without the ending of the file that it came from."""
    return re.sub(r"\.(pdf|tiff?|png|jpe?g|webp|heic)$", "", document_name(name), flags=re.I)


def file_name(name: str, extension: str, addition: str = "") -> str:
    """A file name that every system takes, made from a document's name and what is added to it."""
    stem = without_ending(name) + addition
    stem = re.sub(r'[<>:"|?*]+', "_", stem).strip(" .") or "document"
    return f"{stem[:LONGEST_FILE_NAME].rstrip()}.{extension}"
