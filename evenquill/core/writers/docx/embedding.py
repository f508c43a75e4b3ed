"""What a part of the package keeps beside its text: the addresses that its links lead to, and pictures (ECMA-376 part 1, 20.4.2.8)."""

from __future__ import annotations

import itertools

from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.package import OpcPackage
from docx.opc.packuri import PackURI
from docx.opc.part import Part, XmlPart
from docx.oxml.shape import CT_Inline
from lxml import etree

from evenquill.core.model.blocks import SVG_MEDIA, PictureBlock
from evenquill.core.model.inline import InlinePicture
from evenquill.core.writers.docx.xml import Element, R, clean, element, emus
from evenquill.core.writers.picture import GetPicture

A = "http://schemas.openxmlformats.org/drawingml/2006/main"
ASVG = "http://schemas.microsoft.com/office/drawing/2016/SVG/main"
EXTENSIONS = {"image/jpeg": "jpg", SVG_MEDIA: "svg"}
"""Of the names of parts, where the media type does not end with it."""

SVG_EXTENSION = "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"


class PictureParts:
    """The pictures of a package, each kept once, whatever parts show it. They are taken as they are, and not looked into: a JPEG without
    the header that most have is one too."""

    def __init__(self, picture: GetPicture) -> None:
        self._picture = picture
        self._parts: dict[str, Part] = {}
        self.numbered = itertools.count(1)

    def part(self, package: OpcPackage, name: str, media: str) -> Part:
        """The part with the picture of that name. Raises KeyError where there is no such picture."""
        if name not in self._parts:
            extension = EXTENSIONS.get(media, media.rpartition("/")[2])
            place = PackURI(f"/word/media/image{len(self._parts) + 1}.{extension}")
            self._parts[name] = Part(place, media, self._picture(name), package)
        return self._parts[name]


class Embedding:
    """Embeds in one part, such as the text or the footnotes."""

    def __init__(self, part: XmlPart, pictures: PictureParts) -> None:
        self._part = part
        self._pictures = pictures

    def relate(self, address: str) -> str:
        """The relationship id of an address outside of the document."""
        return str(self._part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    def drawing(self, picture: PictureBlock | InlinePicture, scale: float = 1.0) -> Element:
        """``w:drawing`` of a picture in the line, ``scale`` times as large; where it is a drawing too, programs that can show SVG take that
        instead. Raises KeyError where there is no such picture."""
        relationship = self._relationship(picture.picture, picture.media)
        number = next(self._pictures.numbered)
        name = f"Picture {number}"
        inline = CT_Inline.new_pic_inline(
            number, relationship, name, emus(picture.width * scale), emus(picture.height * scale)
        )
        inline.docPr.set("name", name)
        inline.docPr.set("descr", clean(picture.alt))
        if isinstance(picture, PictureBlock) and picture.drawing:
            (blip,) = inline.iter(f"{{{A}}}blip")
            blip.append(self._svg_blip(picture.drawing))
        made = element("drawing")
        made.append(inline)
        return made

    def _relationship(self, picture: str, media: str) -> str:
        return str(
            self._part.relate_to(self._pictures.part(self._part.package, picture, media), RELATIONSHIP_TYPE.IMAGE)
        )

    def _svg_blip(self, svg: str) -> Element:
        """The extension of a picture that names the SVG (Office Drawing Extensions to Office Open XML, 2.7)."""
        extensions = etree.Element(f"{{{A}}}extLst", nsmap={"a": A})
        extension = etree.SubElement(extensions, f"{{{A}}}ext", uri=SVG_EXTENSION)
        blip = etree.SubElement(extension, f"{{{ASVG}}}svgBlip", nsmap={"asvg": ASVG})
        blip.set(f"{{{R}}}embed", self._relationship(svg, SVG_MEDIA))
        return extensions
