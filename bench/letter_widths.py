"""How wide letters are in the typefaces that ship, as typst sets them: run by itself, it writes the table into the application."""

from __future__ import annotations

import json
import string
from pathlib import Path

import typst

from evenquill.core.typefaces import SHIPPED

LETTERS = string.ascii_letters + string.digits + ".,;:-()"
SIZE = 1000
TARGET = Path(__file__).parents[1] / "evenquill/core/fitted/letter_widths.json"


def widths_in(face: str) -> dict[str, float]:
    """Ems of each letter. Raises ValueError where the typeface is not at hand."""
    if face not in typst.Fonts().families():
        raise ValueError(f"{face} is not at hand")
    source = (
        f"#set text(font: {json.dumps(face)}, size: {SIZE}pt, fallback: false, kerning: false, ligatures: false)\n"
        f"#context [#metadata({json.dumps(LETTERS)}.clusters().map(one => measure(one).width.pt())) <widths>]"
    )
    (found,) = json.loads(typst.query(source.encode(), "<widths>", field="value"))
    return {letter: round(width / SIZE, 4) for letter, width in zip(LETTERS, found, strict=True)}


def main() -> None:
    table = {face: widths_in(face) for face in SHIPPED}
    TARGET.write_text(json.dumps(table, indent=1) + "\n")
    print(f"{len(table)} typefaces, {TARGET.stat().st_size} bytes")


if __name__ == "__main__":
    main()
