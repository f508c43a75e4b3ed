"""Files beside the database: sources by content hash, pictures, delivered files."""

from __future__ import annotations

import hashlib
import os
import tempfile
from collections.abc import Iterable
from pathlib import Path

from msgspec.structs import replace

from evenquill.core.pictures import PictureFolder
from evenquill.core.source import SourceFacts
from evenquill.store.snapshots import Part


class Files:
    """The data folder's parts. Sources are never changed after they are taken in."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self.sources = data / "sources"
        self.copies = data / "repaired"
        self.delivered = data / "delivered"
        self.incoming = data / "incoming"
        for folder in (self.sources, self.copies, self.delivered, self.incoming):
            folder.mkdir(parents=True, exist_ok=True)

    @property
    def pictures(self) -> PictureFolder:
        return PictureFolder(self.data / "pictures")

    def take_in(self, chunks: Iterable[bytes]) -> tuple[str, int]:
        """Keeps a source; returns its SHA-256 and size in bytes. Raises OSError where the disk is full."""
        digest = hashlib.sha256()
        size = 0
        handle, name = tempfile.mkstemp(dir=self.incoming)
        part = Path(name)
        try:
            with os.fdopen(handle, "wb") as file:
                for chunk in chunks:
                    file.write(chunk)
                    digest.update(chunk)
                    size += len(chunk)
                file.flush()
                os.fsync(file.fileno())
            target = self.source(digest.hexdigest())
            target.parent.mkdir(exist_ok=True)
            if target.exists():
                part.unlink()
            else:
                part.replace(target)
                target.chmod(0o444)
        except BaseException:
            part.unlink(missing_ok=True)
            raise
        return digest.hexdigest(), size

    def source(self, sha256: str) -> Path:
        """Where the source with this hash is."""
        return self.sources / sha256[:2] / sha256

    def copy_to_read(self, sha256: str) -> Path:
        """Where the PDF goes that is read in the place of a source: a mended copy, or the pages that were set of it."""
        return self.copies / f"{sha256}.pdf"

    def facts_here(self, part: Part) -> SourceFacts | None:
        """What is known of a file, with the copy that is read in its place where it is now: a data folder may have been moved."""
        if part.facts is None or part.facts.read_instead is None:
            return part.facts
        return replace(part.facts, read_instead=str(self.copy_to_read(part.source)))

    def delivery(self, delivery: str, format: str) -> Path:
        return self.delivered / f"{delivery}.{format}"
