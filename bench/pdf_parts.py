"""PDFs put together piece by piece, with streams that are packed in any way: what writers of PDFs would not write."""

from __future__ import annotations

import io
import zlib
from collections.abc import Callable, Iterable
from pathlib import Path

import pikepdf
from pikepdf import Array, Dictionary, Name, Object, Pdf, Stream

FONT = Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica)


def page(pdf: Pdf, content: bytes | Object, *, box: Iterable[float] = (0, 0, 595, 842), **resources: object) -> Object:
    """A page with this content and these resources added to a PDF."""
    body = content if isinstance(content, Object) else Stream(pdf, content)
    made = pdf.make_indirect(
        Dictionary(
            Type=Name.Page,
            MediaBox=Array([*box]),
            Contents=body,
            Resources=Dictionary(Font=Dictionary(F=FONT), **resources),
        )
    )
    pdf.pages.append(pikepdf.Page(made))
    return made


def save(pdf: Pdf, path: Path) -> None:
    """Writes a PDF with its streams as they are."""
    pdf.save(path, stream_decode_level=pikepdf.StreamDecodeLevel.none, compress_streams=False)


def written(path: Path, content: bytes | Callable[[Pdf], bytes | Object], **resources: object) -> None:
    """A PDF of one page."""
    with Pdf.new() as pdf:
        page(pdf, content(pdf) if callable(content) else content, **resources)  # type: ignore[arg-type]
        save(pdf, path)


def form(pdf: Pdf, content: bytes, forms: dict[str, Object] | None = None) -> Object:
    """A form that draws others."""
    return pdf.make_indirect(
        Stream(
            pdf,
            content,
            Type=Name.XObject,
            Subtype=Name.Form,
            BBox=Array([0, 0, 595, 842]),
            Resources=Dictionary(Font=Dictionary(F=FONT), XObject=Dictionary(forms or {})),
        )
    )


def squeezed(size: int, unit: bytes = b"\0" * 65536, times: int = 1) -> bytes:
    """``size`` bytes compressed ``times`` times over, never held as a whole."""
    packer = zlib.compressobj(9)
    out = b"".join(packer.compress(unit) for _ in range(size // len(unit))) + packer.flush()
    for _ in range(times - 1):
        out = zlib.compress(out, 9)
    return out


def filtered(pdf: Pdf, data: bytes, *filters: Name, **keys: object) -> Object:
    """A stream whose data are compressed already."""
    made = Stream(pdf, b"", **keys)
    made.write(data, filter=Array([*filters]) if len(filters) > 1 else filters[0])
    return pdf.make_indirect(made)


def written_by_hand(path: Path, objects: list[bytes]) -> None:
    """A PDF written out object by object; the first is the catalog."""
    out = io.BytesIO(b"%PDF-1.7\n")
    out.seek(0, 2)
    places = []
    for number, body in enumerate(objects, 1):
        places.append(out.tell())
        out.write(b"%d 0 obj\n%s\nendobj\n" % (number, body))
    start = out.tell()
    out.write(b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1))
    out.writelines(b"%010d 00000 n \n" % place for place in places)
    out.write(b"trailer <</Size %d /Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, start))
    path.write_bytes(out.getvalue())
