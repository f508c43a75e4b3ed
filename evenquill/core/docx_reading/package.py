"""A DOCX file as a package of parts (ISO/IEC 29500-2). Nothing in it is run, and nothing that it names outside is fetched."""

from __future__ import annotations

import posixpath
from typing import NamedTuple

from evenquill.core.errors import UnsupportedSource
from evenquill.core.xml_package import XmlPackage

RELATIONS = "{http://schemas.openxmlformats.org/package/2006/relationships}"


class Relation(NamedTuple):
    """What a part refers to: the kind (the last word of its type), the name of another part or an address outside."""

    kind: str
    target: str
    external: bool


class Package(XmlPackage):
    """The parts of a DOCX file by their names."""

    def __init__(self, data: bytes) -> None:
        """Raises UnsupportedSource for what is no DOCX file, DamagedSource and TooLarge."""
        super().__init__(data, "DOCX")
        main = [one.target for one in self.relations("").values() if one.kind == "officeDocument"]
        if not main or not self.has(main[0]):
            raise UnsupportedSource("This is no DOCX file: it has no text.")
        self.main = main[0]

    @property
    def has_macros(self) -> bool:
        return any(name.endswith("vbaproject.bin") for name in self.names)

    @property
    def outside(self) -> int:
        """How many things the text wants to be fetched from elsewhere: pictures, templates, other documents. Links are none of these."""
        return sum(
            relation.external and relation.kind != "hyperlink"
            for part in (self.main, *(one.target for one in self.relations(self.main).values() if not one.external))
            for relation in self.relations(part).values()
        )

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
