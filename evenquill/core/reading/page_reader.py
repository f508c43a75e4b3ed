"""A page of a file read, whatever it is: in the process that does it. Both readers are loaded with this module, and nowhere else."""

from __future__ import annotations

from pathlib import Path

import msgspec
import pypdfium2 as pdfium
from msgspec.structs import replace

from evenquill.core.errors import SourceError
from evenquill.core.evidence import KeepPicture, PageEvidence
from evenquill.core.model import RemarkKind
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.jobs import PageJob, unread_page
from evenquill.core.reading.native import page_as_picture
from evenquill.core.reading.scanned.cleaning.straighten import paper_dpi
from evenquill.core.reading.scanned.page import pixels_as_page, read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.sizing import read_pdf_page
from evenquill.core.source import PDF, media_of
from evenquill.core.source.frames import frame_of_image
from evenquill.core.source.opened import open_pdf
from evenquill.core.source.page_load import check_page

_ENCODER = msgspec.msgpack.Encoder()


def read_job(job: PageJob) -> bytes:
    """In a worker: the page's evidence, encoded. One that is damaged says so in its evidence."""
    try:
        return _ENCODER.encode(read_source_page(job, PictureFolder(Path(job.pictures)).keep))
    except pdfium.PdfiumError:
        return _ENCODER.encode(unread_page(job.page.number))
    except SourceError as error:
        return _ENCODER.encode(unread_page(job.page.number, sentence=str(error)))


def read_source_page(job: PageJob, keep: KeepPicture) -> PageEvidence:
    """Evidence of a page of a PDF or of a picture file. Raises SourceError or pdfium.PdfiumError."""
    source_page, preparation = job.page, job.preparation
    path = Path(source_page.source)
    if media_of(path) == PDF:
        load = check_page(source_page.source, job.password, source_page.page)
        evidence = read_pdf_page(open_pdf(source_page.source, job.password), source_page.page, keep, preparation)
        if load.huge_picture is not None:
            width, height = load.huge_picture
            evidence = evidence.remarked(
                RemarkKind.CUT_SHORT,
                f"Page {{page}} has a picture of {width} by {height} pixels, more than can be opened; it may not be whole.",
            )
    else:
        pixels, dpi, cut_short = frame_of_image(path, source_page.page)
        guess = paper_dpi(pixels.shape[1], pixels.shape[0])
        evidence = read_scan(Scan(Raster(pixels, dpi or guess), dpi is None), source_page.number, keep, preparation)
        if cut_short:
            evidence = evidence.remarked(
                RemarkKind.CUT_SHORT, "Page {page} is cut short in its file; what is there was read."
            )
    return replace(evidence, number=source_page.number, file_page=source_page.page)


def draw_job(job: PageJob, sentence: str) -> bytes:
    """In a worker: the page as a picture; one that cannot be drawn either says so."""
    keep = PictureFolder(Path(job.pictures)).keep
    path = Path(job.page.source)
    try:
        if media_of(path) == PDF:
            check_page(job.page.source, job.password, job.page.page)
            page = page_as_picture(open_pdf(job.page.source, job.password), job.page.page, sentence, keep)
        else:
            pixels, dpi, _ = frame_of_image(path, job.page.page)
            page = pixels_as_page(pixels, dpi or paper_dpi(pixels.shape[1], pixels.shape[0]), sentence, keep)
    except pdfium.PdfiumError:
        page = unread_page(job.page.number)
    except SourceError as error:
        page = unread_page(job.page.number, sentence=str(error))
    return _ENCODER.encode(replace(page, number=job.page.number, file_page=job.page.page))
