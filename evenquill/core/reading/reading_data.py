"""The recogniser's data for languages: which are installed, and where."""

from __future__ import annotations

import os
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

from evenquill.core.errors import LanguageMissing

DATA_FOLDERS = (
    "/usr/share/tesseract-ocr/5/tessdata",
    "/usr/share/tesseract-ocr/4.00/tessdata",
    "/usr/share/tessdata",
)


@lru_cache(maxsize=1)
def data_folder() -> str:
    """Where the recogniser's language data are; empty if nowhere."""
    named = os.environ.get("TESSDATA_PREFIX", "")
    return next((folder for folder in (named, *DATA_FOLDERS) if folder and Path(folder).is_dir()), "")


@lru_cache(maxsize=1)
def installed_languages() -> tuple[str, ...]:
    """ISO 639-2/T codes of the languages that can be read."""
    folder = Path(data_folder())
    if not data_folder():
        return ()
    return tuple(sorted(path.stem for path in folder.glob("*.traineddata") if path.stem not in ("osd", "equ")))


def check_languages(languages: Sequence[str]) -> None:
    """Raises LanguageMissing, with the package that brings it, for the first language without data."""
    for language in languages:
        if language not in installed_languages():
            package = f"tesseract-ocr-{language.replace('_', '-').lower()}"
            raise LanguageMissing(
                f"There are no reading data for the language “{language}”. Install the package {package}, then read again."
            )
