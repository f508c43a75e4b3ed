"""A made manual of any length: headings, paragraphs, lists, running heads."""

from __future__ import annotations

import random
from pathlib import Path

import typst

TEXT = """the gauge of station and pier harbour reading level float wire clock drum chart paper every morning
keeper tide height datum mark bench staff water well inlet pipe valve weight spring recorder pen ink
line curve hour minute day month office"""
WORDS = TEXT.split()

SECTIONS_PER_PAGE = 2.55
"""Sections as they are made here that fill a page."""

HEAD = """#set page(paper: "a4", margin: 2.5cm, header: [Gauge manual #h(1fr) Skerrin],
  footer: align(center, context counter(page).display()))
#set text(size: 10.5pt, lang: "en")
#set par(justify: true)
#set heading(numbering: "1.1")
"""


def make_manual(path: Path, pages: int) -> Path:
    """Writes a manual of about ``pages`` pages, the same for the same number."""
    rng = random.Random(pages)

    def sentence(length: int) -> str:
        text = " ".join(rng.choice(WORDS) for _ in range(length))
        return text[0].upper() + text[1:] + "."

    def paragraph(sentences: int) -> str:
        return " ".join(sentence(rng.randint(8, 22)) for _ in range(sentences))

    parts = [HEAD]
    for n in range(max(round(pages * SECTIONS_PER_PAGE), 1)):
        level = "=" if n % 6 == 0 else "=="
        items = "\n".join(f"- {sentence(9)}" for _ in range(4))
        parts.append(f"{level} {sentence(4)[:-1]}\n\n{paragraph(7)}\n\n{paragraph(6)}\n\n{items}\n\n")
    typst.compile("".join(parts).encode(), output=path)
    return path
