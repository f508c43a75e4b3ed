"""Link annotations of a page (ISO 32000-1, 12.5.6.5)."""

from __future__ import annotations

import ctypes

import pypdfium2.raw as pdfium_c

from evenquill.core.evidence import LinkArea
from evenquill.core.model import PageLink, UrlLink
from evenquill.core.model.inline import is_safe_link
from evenquill.core.reading.native.frame import Frame


def links_of(document: pdfium_c.FPDF_DOCUMENT, page: pdfium_c.FPDF_PAGE, frame: Frame) -> tuple[LinkArea, ...]:
    """Links to addresses and to pages of the document itself."""
    links = []
    position = ctypes.c_int(0)
    annotation = pdfium_c.FPDF_LINK()
    while pdfium_c.FPDFLink_Enumerate(page, ctypes.byref(position), ctypes.byref(annotation)):
        rect = pdfium_c.FS_RECTF()
        if not pdfium_c.FPDFLink_GetAnnotRect(annotation, ctypes.byref(rect)):
            continue
        leads_to = _target(document, annotation)
        if leads_to is not None:
            links.append(LinkArea(frame.box(rect.left, rect.bottom, rect.right, rect.top).rounded(), leads_to))
    return tuple(links)


def _target(document: pdfium_c.FPDF_DOCUMENT, annotation: pdfium_c.FPDF_LINK) -> UrlLink | PageLink | None:
    target = pdfium_c.FPDFLink_GetDest(document, annotation)
    action = pdfium_c.FPDFLink_GetAction(annotation)
    if action:
        kind = pdfium_c.FPDFAction_GetType(action)
        if kind == pdfium_c.PDFACTION_URI:
            size = pdfium_c.FPDFAction_GetURIPath(document, action, None, 0)
            buffer = ctypes.create_string_buffer(max(int(size), 1))
            pdfium_c.FPDFAction_GetURIPath(document, action, buffer, size)
            link = UrlLink(buffer.value.decode("utf-8", "replace").strip().replace(" ", "%20"))
            return link if is_safe_link(link) else None
        if kind == pdfium_c.PDFACTION_GOTO:
            target = pdfium_c.FPDFAction_GetDest(document, action)
    if target:
        page = pdfium_c.FPDFDest_GetDestPageIndex(document, target)
        return PageLink(page + 1) if page >= 0 else None
    return None
