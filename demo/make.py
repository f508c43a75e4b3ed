"""Makes the demo documents from the sources in this folder: ``python demo/make.py [TARGET]``.

Everything is set in the Skerrin Harbour Board's Tide Gauge Office and invented.
"""

from __future__ import annotations

import io
import math
import random
import sys
from pathlib import Path

import docx
import docx.document
import numpy as np
import pikepdf
import scan_effects
import typst
from PIL import Image, ImageDraw, ImageFilter

HERE = Path(__file__).parent
TARGET = HERE.parent / "evenquill" / "desk" / "demo_documents"

DOCUMENTS = {
    "letter.typ": "Letter to the pilots, 3 March.pdf",
    "full_letter.typ": "Letter to the keepers, 21 May.pdf",
    "report.typ": "North Pier gauge, inspection report.pdf",
    "order.typ": "Equipment order 91-0362.pdf",
    "notice.typ": "Notice to mariners 14.pdf",
    "newsletter.typ": "The Tide Bell, autumn 1978.pdf",
    "review.typ": "The gauges of Skerrin, a review.pdf",
    "constituents.typ": "Reckoning the tide, sheet 12.pdf",
    "yearbook.typ": "Harbour yearbook 1979.pdf",
}


MEMORANDUM = "Memorandum on winter readings, 1971.pdf"
LOG = "Keeper's log, Outer Skerry.jpg"
FINNISH = "Letter from Kallioniemi.tif"
TIDE_TABLE = "Tide table, ferry slip 1976.pdf"
GAUGE_WELL = "The gauge well, sheet of 1974.pdf"
BUNDLE = "Gauge report with old sheets.pdf"
RULES = "Rules for keepers, as sent back.docx"


def main(target: Path = TARGET) -> list[Path]:
    """Writes the pictures that the sources want, the PDFs, and the scans and photos; returns the paths of all documents."""
    target.mkdir(parents=True, exist_ok=True)
    hut_picture().save(HERE / "hut.jpg", quality=88)
    signature_picture().save(HERE / "signature.png")
    made = []
    for source, name in DOCUMENTS.items():
        typst.compile(HERE / source, output=target / name)
        made.append(target / name)
    keepers_rules().save(str(target / RULES))
    return [*made, target / RULES, *scans(target)]


def keepers_rules() -> docx.document.Document:
    """Rules that somebody wrote with a word processor and sent in."""
    made = docx.Document()
    made.core_properties.title = "Rules for keepers"
    made.add_heading("Rules for keepers of gauges", 0)
    made.add_paragraph("Tide Gauge Office, Skerrin Harbour Board. In force from 1 April 1979.")
    made.add_heading("Every day", 1)
    for rule in (
        "Read the staff and the drum at the same minute, and write both down.",
        "Wind the clock before breakfast; a stopped clock is written into the log with the hour at which it was found.",
        "Wipe the glass. Salt on it reads as a rising tide.",
    ):
        made.add_paragraph(rule, style="List Number")
    made.add_heading("When the float sticks", 1)
    row = made.add_paragraph("Do not touch the wire. ")
    row.add_run("Tell the office at once").bold = True
    row.add_run(", by telephone or by the ferry, and read the staff every quarter of an hour until somebody comes.")
    made.add_heading("What is sent in, and when", 1)
    table = made.add_table(1, 3, style="Table Grid")
    rows = (
        ("Sheet", "Day", "By"),
        ("Drum trace", "Monday", "ferry"),
        ("Log", "last of the month", "ferry"),
        ("Faults", "same day", "telephone"),
    )
    for n, cells in enumerate(rows):
        for cell, said in zip((table.rows[0] if not n else table.add_row()).cells, cells, strict=True):
            cell.text = said
    made.add_paragraph("Sent back with the changes that the keepers asked for. H. Tarrow, for the keepers.")
    return made


def scans(target: Path) -> list[Path]:
    """Paper as it comes: what was printed, then laid on a glass or photographed."""
    chance = np.random.default_rng(1971)
    memorandum = scan_effects.printed(_page("memorandum.typ"), chance, paper=(233, 226, 205), ink=52)
    memorandum = scan_effects.scanned(scan_effects.turned(memorandum, 1.1), chance, specks=260)
    (target / MEMORANDUM).write_bytes(scan_effects.as_pdf([memorandum]))

    log = scan_effects.printed(_page("log.typ", dpi=300), chance, paper=(240, 236, 224))
    log = scan_effects.shadowed(scan_effects.warped(log, 0.006), chance, 0.3)
    log = scan_effects.scanned(scan_effects.photographed(log, chance, lean=0.02), chance, blur=0.9, specks=0)
    (target / LOG).write_bytes(scan_effects.as_jpeg(log, 84, dpi=72))

    letter = [
        scan_effects.scanned(
            scan_effects.turned(scan_effects.printed(_page("finnish.typ", number), chance), skew), chance, specks=90
        )
        for number, skew in ((1, -0.8), (2, 0.6))
    ]
    first, *rest = (Image.fromarray(page).convert("L") for page in letter)
    first.save(
        target / FINNISH,
        save_all=True,
        append_images=rest,
        compression="tiff_deflate",
        dpi=(200, 200),
        software="Kopla 4",
    )

    table = scan_effects.scanned(
        scan_effects.turned(scan_effects.printed(_page("tide.typ"), chance, ink=70), -1.4), chance, specks=180
    )
    (target / TIDE_TABLE).write_bytes(scan_effects.as_pdf([table], grey=True))
    (target / BUNDLE).write_bytes(_bundle(target, [memorandum, *letter]))

    chance = np.random.default_rng(1974)
    well = scan_effects.printed(_page("gauge_well.typ", dpi=300), chance, paper=(240, 235, 220), ink=45)
    well = scan_effects.scanned(scan_effects.turned(well, 0.5), chance, blur=1.1, specks=120)
    (target / GAUGE_WELL).write_bytes(scan_effects.as_pdf([well], 300, grey=True))
    return [target / name for name in (MEMORANDUM, LOG, FINNISH, TIDE_TABLE, BUNDLE, GAUGE_WELL)]


def _page(source: str, number: int = 1, dpi: int = 200) -> scan_effects.Pixels:
    """A page of a source, drawn without a flaw."""
    return scan_effects.drawn(typst.compile(HERE / source), number, dpi)


def _bundle(target: Path, sheets: list[scan_effects.Pixels]) -> bytes:
    """The report with three scanned sheets put into its middle."""
    with (
        pikepdf.open(target / DOCUMENTS["report.typ"]) as report,
        pikepdf.open(io.BytesIO(scan_effects.as_pdf(sheets))) as scanned,
    ):
        middle = len(report.pages) // 2
        for n, page in enumerate(scanned.pages):
            report.pages.insert(middle + n, page)
        out = io.BytesIO()
        report.save(out)
        return out.getvalue()


def hut_picture(width: int = 1200, height: int = 700) -> Image.Image:
    """The gauge hut on the pier, as a small photograph would show it."""
    rng = random.Random(1974)
    image = Image.new("RGB", (width, height))
    draw = ImageDraw.Draw(image)
    horizon = int(height * 0.55)
    for y in range(horizon):
        shade = y / horizon
        draw.line([(0, y), (width, y)], fill=(int(120 + 90 * shade), int(150 + 60 * shade), int(185 + 35 * shade)))
    for y in range(horizon, height):
        shade = (y - horizon) / (height - horizon)
        draw.line([(0, y), (width, y)], fill=(int(60 - 20 * shade), int(92 - 30 * shade), int(104 - 30 * shade)))
    for _ in range(900):
        x, y = rng.randrange(width), rng.randrange(horizon, height)
        draw.line([(x, y), (x + rng.randrange(8, 40), y)], fill=(96, 128, 140))
    deck = int(height * 0.72)
    draw.polygon([(0, deck), (820, deck - 40), (820, deck - 8), (0, deck + 40)], fill=(92, 80, 68))
    for x in range(40, 800, 90):
        draw.rectangle([x, deck, x + 16, height], fill=(70, 60, 50))
    draw.rectangle([330, deck - 240, 560, deck - 22], fill=(158, 66, 52))
    draw.polygon([(305, deck - 240), (445, deck - 345), (585, deck - 240)], fill=(60, 50, 48))
    draw.rectangle([415, deck - 140, 480, deck - 26], fill=(70, 48, 40))
    draw.rectangle([900, 200, 922, height], fill=(236, 232, 220))
    for n, y in enumerate(range(210, height, 24)):
        draw.rectangle([900, y, 922, y + 10], fill=(30, 34, 40) if n % 2 else (176, 44, 40))
    return image.filter(ImageFilter.GaussianBlur(1.1))


def signature_picture(width: int = 560, height: int = 180) -> Image.Image:
    """A signature in ink: one line that swings as a hand does."""
    image = Image.new("RGB", (width, height), "white")
    draw = ImageDraw.Draw(image)
    points = [
        (40 + 4.6 * t, 100 - 46 * math.exp(-t / 60) * math.sin(t / 4.2) - 14 * math.sin(t / 9 + 1)) for t in range(100)
    ]
    draw.line(points, fill=(28, 40, 84), width=4, joint="curve")
    draw.line([(60, 148), (500, 128)], fill=(28, 40, 84), width=3)
    return image


if __name__ == "__main__":
    for path in main(Path(sys.argv[1]) if len(sys.argv) > 1 else TARGET):
        print(path)
