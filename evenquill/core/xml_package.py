"""A file that is a package of parts, most of them XML, as those of word processors are. Nothing in it is run."""

from __future__ import annotations

import io
import zipfile
import zlib

from lxml import etree

from evenquill.core.errors import DamagedSource, TooLarge, UnsupportedSource

Element = etree._Element

MOST_BYTES = 200_000_000
"""Of a part, unpacked: the text of ten thousand pages is a tenth of that."""

MOST_RATIO = 400
"""Unpacked bytes for each packed one over a whole package: text packs to a tenth, and nobody packs a document twice."""


class XmlPackage:
    """The parts of a file by their names, in whatever case these are."""

    def __init__(self, data: bytes, kind: str) -> None:
        """``kind`` is what the file should be, in words. Raises UnsupportedSource for what is no package, and TooLarge."""
        try:
            self._file = zipfile.ZipFile(io.BytesIO(data))
        except (zipfile.BadZipFile, NotImplementedError, ValueError, OSError):
            raise UnsupportedSource(f"This is no {kind} file.") from None
        if sum(one.file_size for one in self._file.infolist()) > max(MOST_RATIO * len(data), MOST_BYTES):
            raise TooLarge("The file unpacks to more than can be worked on.")
        self._names = {one.filename.lower(): one.filename for one in self._file.infolist()}

    @property
    def names(self) -> list[str]:
        """The names of all parts, in small letters."""
        return list(self._names)

    def has(self, name: str) -> bool:
        return name.lower() in self._names

    def data(self, name: str) -> bytes:
        """The bytes of a part. Raises DamagedSource where it is not there or cannot be unpacked, and TooLarge."""
        try:
            found = self._names[name.lower()]
            if self._file.getinfo(found).file_size > MOST_BYTES:
                raise TooLarge("A part of the file is larger than can be worked on.")
            return self._file.read(found)
        except (
            KeyError,
            zipfile.BadZipFile,
            NotImplementedError,
            RuntimeError,
            OSError,
            EOFError,
            ValueError,
            zlib.error,
        ):
            raise DamagedSource("The file is broken: a part of it cannot be unpacked.") from None

    def root(self, name: str) -> Element:
        """The root element of a part. Raises DamagedSource where it is not there or no XML."""
        parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True)
        try:
            return etree.fromstring(self.data(name), parser)
        except (etree.XMLSyntaxError, ValueError):
            raise DamagedSource("The file is broken: its text cannot be understood.") from None
