"""Made documents: drawn by seed, set in one of several ways, with their truth beside them."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path
from typing import Any

import pikepdf
import typst
import weasyprint
from chromium import CHROMIUM, FLAGS
from playwright.sync_api import sync_playwright

from .families import FAMILIES, SMALL, family_of
from .look import Look, draw_look
from .numbering import with_numbers
from .parts import Made, Picture, Table
from .prose import LANGUAGES, Writer, prose_of
from .set_html import html_of, without_notes, without_sections
from .set_latex import as_class_has_it, latex_pdf
from .set_reportlab import reportlab_pdf
from .set_typst import typst_of
from .truth import expected
from .typefaces import use_typefaces, whole_typefaces, with_whole_typefaces
from .variations import with_columns, with_cover, with_extras, with_lines_around_title, with_sides
from .within_pages import check_within_pages

WAYS = ("weasyprint", "chromium", "typst", "typst", "latex", "latex", "latex", "reportlab")
WITH_CYRILLIC = ("weasyprint", "chromium", "typst")
LANGUAGE_WEIGHTS = [6] + [1] * (len(LANGUAGES) - 1)
UNTAGGED = 0.75
"""Share of documents whose tags are taken out: most files have none."""

ADDRESS = "http://corpus.invalid/"


def make_all(folder: Path, seed: int, count: int, workers: int, families: Sequence[str] = ()) -> list[str]:
    """Makes documents number ``seed`` and the next ``count - 1`` below ``folder / "made"``, those that are not there, of these
    ``families`` alone where some are named. Returns failures."""
    use_typefaces(folder)
    seeds = [
        n
        for n in range(seed, seed + count)
        if not (folder / "made" / name_of(n) / "expected.json").exists()
        and (not families or name_of(n).rsplit("-", 1)[0] in families)
    ]
    with ProcessPoolExecutor(workers) as pool:
        return [
            line
            for lines in pool.map(_make_some, [str(folder)] * len(seeds[::20]), _chunks(seeds, 20))
            for line in lines
        ]


def _chunks(seeds: Sequence[int], size: int) -> Iterator[list[int]]:
    for start in range(0, len(seeds), size):
        yield list(seeds[start : start + size])


def name_of(seed: int) -> str:
    return f"{family_of(seed)}-{seed:05}"


def _make_some(folder: str, seeds: list[int]) -> list[str]:
    failures = []
    for seed in seeds:
        try:
            _make(Path(folder), seed)
        except Exception as error:
            failures.append(f"{name_of(seed)}: {type(error).__name__}: {str(error)[:300]}")
    return failures


def _make(folder: Path, seed: int) -> None:
    rng = random.Random(seed)
    family = family_of(seed)
    language = rng.choices(LANGUAGES, LANGUAGE_WEIGHTS)[0]
    writer = Writer(prose_of(folder / "root", language), rng)
    way = rng.choice(WAYS if language != "ru" else WITH_CYRILLIC)
    look = draw_look(rng, family, language)
    made = with_lines_around_title((FAMILIES | SMALL)[family](writer, rng), writer, rng)
    made = with_columns(with_cover(with_extras(made, writer, rng), writer, rng), seed)
    made = with_numbers(with_sides(made, writer, seed), look)
    if way in ("chromium", "reportlab"):
        made = without_notes(made)
    if way == "chromium":
        made = without_sections(made)
    look = as_class_has_it(look, seed) if way == "latex" else look
    look = with_whole_typefaces(look, language, whole_typefaces()) if way == "typst" else look
    pdf = _set(made, look, way, folder, seed)
    check_within_pages(pdf)
    target = folder / "made" / name_of(seed)
    target.mkdir(parents=True, exist_ok=True)
    source = target / "source.pdf"
    source.write_bytes(pdf)
    with pikepdf.open(source, allow_overwriting_input=True) as opened:
        pages = len(opened.pages)
        if rng.random() < UNTAGGED and "/StructTreeRoot" in opened.Root:
            del opened.Root["/StructTreeRoot"]
            opened.save(source)
    truth = expected(made, look, pages, target.name) | {
        "family": family,
        "way": way,
        "floats": _floats(made, look, way),
    }
    (target / "expected.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1))


def _floats(made: Made, look: Look, way: str) -> bool:
    """Whether pictures or tables may have come out elsewhere than the truth has them."""
    may = way == "typst" or (way == "latex" and made.columns == 1)
    return may and look.floats and any(isinstance(part, (Table, Picture)) for part in made.parts)


def _set(made: Made, look: Look, way: str, folder: Path, seed: int) -> bytes:
    if way == "latex":
        return latex_pdf(made, look, seed)
    if way == "typst":
        return typst.compile(
            typst_of(made, look).encode(), font_paths=[str(folder / "root/usr/share/fonts")], ignore_system_fonts=True
        )
    if way == "reportlab":
        return reportlab_pdf(made, look, folder / "root")
    if way == "weasyprint":
        return weasyprint.HTML(string=html_of(made, look, notes=True)).write_pdf()
    page = _browser().new_page()
    try:
        page.set_content(html_of(made, look, notes=False))
        return page.pdf(prefer_css_page_size=True, print_background=True, outline=False)
    finally:
        page.close()


@cache
def _browser() -> Any:
    return sync_playwright().start().chromium.launch(executable_path=CHROMIUM, args=FLAGS)
