"""Pictures kept in a folder under the SHA-256 of their bytes, so that a picture used twice is kept once."""

from __future__ import annotations

import hashlib
import os
import re
import tempfile
from pathlib import Path

_NAMED = re.compile(rb'"(?:picture|drawing)":"([^"]+)"')


def pictures_named(data: bytes) -> list[str]:
    """The pictures that JSON names, as blocks, inline pictures and operations do; in a text, the quotation marks would be escaped."""
    return [name.decode(errors="replace") for name in _NAMED.findall(data)]


class PictureFolder:
    """A folder of pictures; safe to write to from several processes at once."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def path(self, picture: str) -> Path:
        """Where the picture of this hash is; raises KeyError for what is no hash."""
        if len(picture) != 64 or not all(c in "0123456789abcdef" for c in picture):
            raise KeyError(picture)
        return self.folder / picture[:2] / picture

    def has(self, picture: str) -> bool:
        """Whether a picture is here."""
        try:
            return self.path(picture).is_file()
        except KeyError:
            return False

    def keep(self, data: bytes, media: str) -> str:
        """Keeps the bytes and returns their SHA-256. Raises OSError where the disk is full; nothing is left then."""
        picture = hashlib.sha256(data).hexdigest()
        path = self.path(picture)
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True)
            handle, name = tempfile.mkstemp(dir=path.parent)
            part = Path(name)
            try:
                with os.fdopen(handle, "wb") as file:
                    file.write(data)
                part.replace(path)
            except BaseException:
                part.unlink(missing_ok=True)
                raise
        return picture

    def get(self, picture: str) -> bytes:
        """The bytes of a picture; raises KeyError where there is none."""
        try:
            return self.path(picture).read_bytes()
        except FileNotFoundError:
            raise KeyError(picture) from None
