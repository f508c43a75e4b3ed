"""Pictures as files that the markup names."""

from __future__ import annotations

from evenquill.core.writers.pdf.markup import points, string
from evenquill.core.writers.picture import GetPicture

WITHOUT_WORDS = "Picture"
"""What is said of a picture that nobody has described: readers need something."""


class Pictures:
    """Keeps the pictures that were named, by the names of their files."""

    def __init__(self, get: GetPicture) -> None:
        self._get = get
        self.files: dict[str, bytes] = {}

    def image(self, picture: str, width: float, alt: str) -> str:
        """The call that shows a picture; ``width`` in points. Raises KeyError where there is none of that name."""
        name = f"{picture}.picture"
        if name not in self.files:
            self.files[name] = self._get(picture)
        form = string(_form_of(self.files[name]))
        return f"image({string(name)}, format: {form}, width: {points(width)}, alt: {string(alt or WITHOUT_WORDS)})"


def _form_of(data: bytes) -> str:
    """The kind of a picture by its first bytes."""
    if data.startswith(b"\xff\xd8"):
        return "jpg"
    if data.startswith(b"GIF8"):
        return "gif"
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "webp"
    return "png" if data.startswith(b"\x89PNG") else "svg"
