"""What a part of the package keeps beside its text: the addresses that its links lead to, and pictures (ECMA-376 part 1, 20.4.2.8)."""

from __future__ import annotations

import io
import itertools

from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.part import XmlPart
from docx.oxml.shape import CT_Inline

from evenquill.core.writers.docx.xml import Element, clean, element, emus
from evenquill.core.writers.picture import GetPicture


class Embedding:
    """Embeds in one part, such as the text or the footnotes; pictures in all parts are ``numbered`` from one counter."""

    def __init__(self, part: XmlPart, picture: GetPicture, numbered: itertools.count[int]) -> None:
        self._part = part
        self._picture = picture
        self._numbered = numbered

    def relate(self, address: str) -> str:
        """The relationship id of an address outside of the document."""
        return str(self._part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    def drawing(self, picture: str, width: float, height: float, alt: str) -> Element:
        """``w:drawing`` of a picture in the line, with its size in points. Raises KeyError where there is no such picture."""
        image = self._part.package.get_or_add_image_part(io.BytesIO(self._picture(picture)))
        relationship = self._part.relate_to(image, RELATIONSHIP_TYPE.IMAGE)
        number = next(self._numbered)
        inline = CT_Inline.new_pic_inline(number, relationship, image.image.filename, emus(width), emus(height))
        inline.docPr.set("name", f"Picture {number}")
        inline.docPr.set("descr", clean(alt))
        made = element("drawing")
        made.append(inline)
        return made
