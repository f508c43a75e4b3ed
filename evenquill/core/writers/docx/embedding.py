"""What a part of the package keeps beside its text: the addresses that its links lead to, and pictures (ECMA-376 part 1, 20.4.2.8)."""

from __future__ import annotations

import io
import itertools

from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.packuri import PackURI
from docx.opc.part import Part, XmlPart
from docx.oxml.shape import CT_Inline
from lxml import etree

from evenquill.core.model.blocks import SVG_MEDIA
from evenquill.core.writers.docx.xml import Element, R, clean, element, emus
from evenquill.core.writers.picture import GetPicture

A = "http://schemas.openxmlformats.org/drawingml/2006/main"
ASVG = "http://schemas.microsoft.com/office/drawing/2016/SVG/main"
SVG_EXTENSION = "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"


class Embedding:
    """Embeds in one part, such as the text or the footnotes; pictures in all parts are ``numbered`` from one counter."""

    def __init__(self, part: XmlPart, picture: GetPicture, numbered: itertools.count[int]) -> None:
        self._part = part
        self._picture = picture
        self._numbered = numbered

    def relate(self, address: str) -> str:
        """The relationship id of an address outside of the document."""
        return str(self._part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    def drawing(self, picture: str, width: float, height: float, alt: str, svg: str = "") -> Element:
        """``w:drawing`` of a picture in the line, with its size in points; ``svg`` is the same picture as SVG, which programs that can show
        it take instead. Raises KeyError where there is no such picture."""
        image = self._part.package.get_or_add_image_part(io.BytesIO(self._picture(picture)))
        relationship = self._part.relate_to(image, RELATIONSHIP_TYPE.IMAGE)
        number = next(self._numbered)
        inline = CT_Inline.new_pic_inline(number, relationship, image.image.filename, emus(width), emus(height))
        inline.docPr.set("name", f"Picture {number}")
        inline.docPr.set("descr", clean(alt))
        if svg:
            (blip,) = inline.iter(f"{{{A}}}blip")
            blip.append(self._svg_blip(svg, number))
        made = element("drawing")
        made.append(inline)
        return made

    def _svg_blip(self, svg: str, number: int) -> Element:
        """The extension of a picture that names the SVG (Office Drawing Extensions to Office Open XML, 2.7)."""
        package = self._part.package
        name = PackURI(f"/word/media/drawing{number}.svg")
        part = Part(name, SVG_MEDIA, self._picture(svg), package)
        extensions = etree.Element(f"{{{A}}}extLst", nsmap={"a": A})
        extension = etree.SubElement(extensions, f"{{{A}}}ext", uri=SVG_EXTENSION)
        blip = etree.SubElement(extension, f"{{{ASVG}}}svgBlip", nsmap={"asvg": ASVG})
        blip.set(f"{{{R}}}embed", self._part.relate_to(part, RELATIONSHIP_TYPE.IMAGE))
        return extensions
