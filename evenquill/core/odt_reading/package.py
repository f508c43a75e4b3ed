"""An ODT file as a package of parts (part 2 of the standard). Nothing in it is run, and nothing that it names outside is fetched."""

from __future__ import annotations

import posixpath

from lxml import etree

from evenquill.core.errors import UnsupportedSource
from evenquill.core.odt_reading.names import MANIFEST, Element
from evenquill.core.xml_package import XmlPackage

CONTENT, STYLES, META, LISTED = "content.xml", "styles.xml", "meta.xml", "META-INF/manifest.xml"


class Package(XmlPackage):
    """The parts of an ODT file by their names."""

    def __init__(self, data: bytes) -> None:
        """Raises UnsupportedSource for what is no ODT file or is locked, DamagedSource and TooLarge."""
        super().__init__(data, "ODT")
        if not self.has(CONTENT):
            raise UnsupportedSource("This is no ODT file: it has no text.")
        if self.has(LISTED) and next(self.root(LISTED).iter(f"{MANIFEST}encryption-data"), None) is not None:
            raise UnsupportedSource("This file is locked by a password. Save it without one and try again.")

    @property
    def has_macros(self) -> bool:
        return any(name.startswith(("basic/", "scripts/")) and not name.endswith("/") for name in self.names)

    def part(self, name: str) -> Element:
        """The root element of a part that need not be there."""
        return self.root(name) if self.has(name) else etree.Element("nothing")

    def inner(self, address: str) -> str | None:
        """The name of the part that an address leads to; None for one that is outside of the file or not there."""
        name = posixpath.normpath(address.removeprefix("./"))
        return name if "://" not in address and self.has(name) else None
