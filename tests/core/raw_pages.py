"""PDF files written object by object, for what no typesetter does."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path

SERIF = (
    "<< /Type /Font /Subtype /Type1 /BaseFont /Times-Roman /FirstChar 32 /LastChar 126 "
    f"/Widths [{'500 ' * 95}] /FontDescriptor 6 0 R >>"
)
DESCRIPTOR = (
    "<< /Type /FontDescriptor /FontName /Times-Roman /Flags 34 /FontBBox [0 -200 1000 900] /ItalicAngle 0 "
    "/Ascent 700 /Descent -200 /CapHeight 660 /StemV 80 >>"
)
WIDTH = 0.5
"""Ems that each letter of SERIF is wide."""


def write_page(
    path: Path, content: str, fonts: str, objects: Mapping[int, str], size: tuple[int, int] = (595, 842)
) -> Path:
    """A PDF of one page: its content, its fonts by name, and the objects that these refer to, from 5."""
    page = f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 {size[0]} {size[1]}] /Contents 4 0 R /Resources << /Font << {fonts} >> >> >>"
    every = {
        1: "<< /Type /Catalog /Pages 2 0 R >>",
        2: "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        3: page,
        4: stream(content),
        **objects,
    }
    out, places = "%PDF-1.7\n", {}
    for number, body in every.items():
        places[number] = len(out)
        out += f"{number} 0 obj\n{body}\nendobj\n"
    start, last = len(out), max(every)
    rows = "".join(f"{places.get(n, 0):010d} 00000 {'n' if n in places else 'f'} \n" for n in range(1, last + 1))
    out += f"xref\n0 {last + 1}\n0000000000 65535 f \n{rows}trailer << /Size {last + 1} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF"
    path.write_bytes(out.encode())
    return path


def stream(content: str) -> str:
    return f"<< /Length {len(content)} >>\nstream\n{content}\nendstream"


def justified(path: Path, lines: Sequence[tuple[float, float, float, str]], size: float = 10.0) -> Path:
    """A page of lines, each by its left and right edge, its baseline and its words: spaces are as wide as that takes."""
    shown = ""
    for left, right, y, words in lines:
        room = right - left - WIDTH * size * len(words)
        shown += f"BT /F0 {size} Tf {room / words.count(' '):.3f} Tw {left} {y} Td ({words}) Tj ET\n"
    return write_page(path, shown, "/F0 5 0 R", {5: SERIF, 6: DESCRIPTOR}, (400, 500))
