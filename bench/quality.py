"""Converts every case of a benchmark folder (CASE/source.pdf) into bench/out/CASE.docx: ``python bench/quality.py CASES``."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from evenquill.core.convert import convert
from evenquill.core.errors import SourceError
from evenquill.core.reading.pages import PagePool
from evenquill.core.writers.docx import write_docx

OUT = Path(__file__).parent / "out"


def main(cases: Path) -> None:
    OUT.mkdir(exist_ok=True)
    with PagePool() as pool, tempfile.TemporaryDirectory() as pictures:
        for case in sorted(path for path in cases.iterdir() if path.is_dir()):
            for source in case.glob("source.*"):
                try:
                    conversion = convert(source, pool, Path(pictures) / case.name)
                except SourceError as error:
                    print(f"{case.name}: {error}")
                    continue
                (OUT / f"{case.name}.docx").write_bytes(write_docx(conversion.document, conversion.pictures.get))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
