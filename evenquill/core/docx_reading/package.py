"""A DOCX file as a package of parts (ISO/IEC 29500-2). Nothing in it is run, and nothing that it names outside is fetched."""

from __future__ import annotations

import io
import posixpath
import zipfile
from typing import NamedTuple

from lxml import etree

from evenquill.core.errors import DamagedSource, TooLarge, UnsupportedSource

Element = etree._Element

MOST_BYTES = 200_000_000
"""Of a part, unpacked: the text of ten thousand pages is a tenth of that."""

MOST_RATIO = 400
"""Unpacked bytes for each packed one over a whole package: text packs to a tenth, and nobody packs a document twice."""

RELATIONS = "{http://schemas.openxmlformats.org/package/2006/relationships}"


class Relation(NamedTuple):
    """What a part refers to: the kind (the last word of its type), the name of another part or an address outside."""

    kind: str
    target: str
    external: bool


class Package:
    """The parts of a DOCX file by their names."""

    def __init__(self, data: bytes) -> None:
        """Raises UnsupportedSource for what is no DOCX file, DamagedSource and TooLarge."""
        try:
            self._file = zipfile.ZipFile(io.BytesIO(data))
        except (zipfile.BadZipFile, NotImplementedError, ValueError, OSError):
            raise UnsupportedSource("This is no DOCX file.") from None
        if sum(one.file_size for one in self._file.infolist()) > max(MOST_RATIO * len(data), MOST_BYTES):
            raise TooLarge("The file unpacks to more than can be worked on.")
        self._names = {one.filename.lower(): one.filename for one in self._file.infolist()}
        main = [one.target for one in self.relations("").values() if one.kind == "officeDocument"]
        if not main or not self.has(main[0]):
            raise UnsupportedSource("This is no DOCX file: it has no text.")
        self.main = main[0]

    @property
    def has_macros(self) -> bool:
        return any(name.endswith("vbaproject.bin") for name in self._names)

    @property
    def outside(self) -> int:
        """How many things the text wants to be fetched from elsewhere: pictures, templates, other documents. Links are none of these."""
        return sum(
            relation.external and relation.kind != "hyperlink"
            for part in (self.main, *(one.target for one in self.relations(self.main).values() if not one.external))
            for relation in self.relations(part).values()
        )

    def has(self, name: str) -> bool:
        return name.lower() in self._names

    def data(self, name: str) -> bytes:
        """The bytes of a part. Raises DamagedSource where it is not there or cannot be unpacked, and TooLarge."""
        try:
            found = self._names[name.lower()]
            if self._file.getinfo(found).file_size > MOST_BYTES:
                raise TooLarge("A part of the file is larger than can be worked on.")
            return self._file.read(found)
        except (KeyError, zipfile.BadZipFile, NotImplementedError, RuntimeError, OSError, EOFError, ValueError):
            raise DamagedSource("The file is broken: a part of it cannot be unpacked.") from None

    def root(self, name: str) -> Element:
        """The root element of a part. Raises DamagedSource where it is not there or no XML."""
        parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True)
        try:
            return etree.fromstring(self.data(name), parser)
        except (etree.XMLSyntaxError, ValueError):
            raise DamagedSource("The file is broken: its text cannot be understood.") from None

    def relations(self, name: str) -> dict[str, Relation]:
        """By id what a part refers to; "" for the package itself."""
        folder, own = posixpath.split(name)
        listed = posixpath.join(folder, "_rels", f"{own}.rels")
        if not self.has(listed):
            return {}
        out = {}
        for one in self.root(listed).iter(f"{RELATIONS}Relationship"):
            external = one.get("TargetMode") == "External"
            target = one.get("Target", "")
            if not external:
                target = posixpath.normpath(posixpath.join("/", folder, target)).lstrip("/")
            out[one.get("Id", "")] = Relation(one.get("Type", "").rpartition("/")[2], target, external)
        return out
