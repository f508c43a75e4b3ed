"""Every format of every document of a benchmark: what of its words is there, what it costs, and whether its pages can be made to fit.

``python bench/formats.py CASES`` (needs pandoc): converts ``CASES/*/source.*``. Prints, per format, the words that an independent reader
(pandoc, PDFium, or none for plain text) finds in it against those of our DOCX, with the documents where some are missing, and what writing
takes over converting native documents; then packages in which an independent checker finds something, and how many pages each native
document takes before and after it is made to fit. Each document is also taken in again as DOCX and as ODT, and written as DOCX into
``bench/out_again``, for the benchmark's scorer.

Words are those of the body. Equations are left out, since each reader spells them otherwise, and so are labels of items, which only some
formats spell out.
"""

from __future__ import annotations

import argparse
import io
import json
import re
import subprocess
import sys
import tempfile
import time
import zipfile
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pypdfium2 as pdfium
from lxml import etree

from evenquill.core.convert import Conversion, convert
from evenquill.core.edits import apply
from evenquill.core.errors import SourceError
from evenquill.core.evidence import PageKind
from evenquill.core.model import Document
from evenquill.core.outcome.fitting import Way, find_fit
from evenquill.core.outcome.setting import SetPages, set_pages
from evenquill.core.reading.pages import PagePool
from evenquill.core.writers.problem import NotWritten
from evenquill.core.writers.registry import WITHOUT_RUNNING_HEADS, WRITERS, Writer

AGAIN = Path(__file__).parent / "out_again"
BY_PANDOC = {"docx": "docx", "rtf": "rtf", "html": "html", "epub": "epub", "markdown": "markdown"}
SPELLING_LABELS = ("pdf", "text")
PACKAGES = ("docx", "odt")
LEFT_OUT = {"Math", "RawInline", "RawBlock", "Image"}


def words_of(writer: Writer, data: bytes) -> Counter[str]:
    """What an independent reader finds."""
    if writer.name in BY_PANDOC:
        with tempfile.NamedTemporaryFile(suffix="." + writer.ending) as file:
            file.write(data)
            file.flush()
            command = ["pandoc", "-f", BY_PANDOC[writer.name], "-t", "json", file.name]
            read: dict[str, Any] = json.loads(subprocess.run(command, check=True, capture_output=True).stdout)
        title = read["meta"].get("title", {}) if writer.name == "docx" else {}  # elsewhere it is in the body
        text = "".join(_text([title, read["blocks"]]))
    elif writer.name == "odt":  # pandoc leaves out the header rows of its tables
        with zipfile.ZipFile(io.BytesIO(data)) as package:
            body = etree.fromstring(package.read("content.xml")).find(".//{*}text")
        assert body is not None
        text = "".join(_text_of_odt(body))
    elif writer.name == "pdf":
        with pdfium.PdfDocument(data) as document:
            text = "\n".join(page.get_textpage().get_text_range() for page in document)
    else:
        text = data.decode()
    # A hyphen at the end of a line may be the word's own: all are left out.
    return Counter(re.findall(r"\w+", re.sub(r"(?<=\w)([-\u2010\u2011\x02\ufffe]\s*)+(?=\w)", "", text)))


def _text(node: Any) -> Iterator[str]:
    """The words of a tree of pandoc's."""
    if isinstance(node, list):
        for part in node:
            yield from _text(part)
    elif isinstance(node, dict):
        kind, content = node.get("t"), node.get("c")
        if kind == "Str":
            yield content
        elif kind == "Code":
            yield content[1]
        elif kind in {"Space", "SoftBreak", "LineBreak"}:
            yield " "
        elif kind == "CodeBlock":
            yield f" {content[1]} "
        elif kind == "Image" and content[2][1].startswith("fig:"):  # its caption
            yield from _text(content[1])
        elif kind == "Span" and not content[1]:  # the leader of an entry of the contents
            yield " "
        elif kind not in LEFT_OUT:
            inline = kind in {
                "Emph",
                "Strong",
                "Underline",
                "Superscript",
                "Subscript",
                "SmallCaps",
                "Strikeout",
                "Span",
                "Link",
                "Quoted",
            }
            yield "" if inline else " "
            yield from _text(list(node.values()) if kind is None else content)
            yield "" if inline else " "


def _text_of_odt(element: etree._Element) -> Iterator[str]:
    """The words of a part of an ODT's body."""
    name = etree.QName(element).localname
    if name in {"note-citation", "object", "frame", "tracked-changes"}:
        yield element.tail or ""
        return
    apart = " " if name in {"p", "h", "tab", "s", "line-break"} else ""
    yield apart + (element.text or "")
    for part in element:
        yield from _text_of_odt(part)
    yield apart + (element.tail or "")


def has_findings(writer: Writer, data: bytes) -> bool:
    """Whether an independent checker of packages has any."""
    with tempfile.NamedTemporaryFile(suffix="." + writer.ending) as file:
        file.write(data)
        file.flush()
        checked = subprocess.run([sys.executable, "-m", "openxml_audit", file.name], capture_output=True, check=False)
    return checked.returncode != 0


def share_there(found: Counter[str], wanted: Counter[str], *, spells_labels: bool) -> float:
    """F1 of words, or the share of those wanted that are found where labels of items are spelled out too; in per cent."""
    there, most = (found & wanted).total(), max(wanted.total(), 1)
    return 100 * there / most if spells_labels else 200 * there / (found.total() + most)


def written(made: Conversion, times: dict[str, float]) -> dict[str, bytes]:
    """The document in every format in which it can be written, and how long each took."""
    found = {}
    for name, writer in WRITERS.items():
        options = {WITHOUT_RUNNING_HEADS.name} & {option.name for option in writer.options}
        started = time.perf_counter()
        try:
            found[name] = writer.write(made.document, made.pictures.get, options)
        except NotWritten as error:
            print(f"{name}: {error}")
        times[name] += time.perf_counter() - started
    return found


def take_in_again(made: Conversion, writer: Writer, name: str, pool: PagePool, folder: Path) -> None:
    """Writes the document in a format, takes that file in, and writes what comes of it as DOCX, for the scorer."""
    path = folder / f"{name}.{writer.ending}"
    path.write_bytes(writer.write(made.document, made.pictures.get, ()))
    try:
        again = convert(path, pool, folder / f"{name}-{writer.name}")
    except SourceError as error:
        print(f"{name} as {writer.name}: {error}")
        return
    target = AGAIN / writer.name / f"{name}.docx"
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_bytes(WRITERS["docx"].write(again.document, again.pictures.get, ()))


def fitted(made: Conversion) -> tuple[int, int, int]:
    """Pages of the source, of the outcome as it is, and of what is made to fit by the first way that does."""

    def setter(document: Document) -> SetPages:
        return set_pages(document, made.pictures.get)

    def pages(document: Document) -> int:
        return len(setter(document).outcome.pages)

    before = after = pages(made.document)
    if before != len(made.document.pages):
        for way in Way:
            operation = find_fit(made.document, way, setter)
            if operation is not None:
                after = pages(apply(made.document, operation).document)
            if after == len(made.document.pages):
                break
    return len(made.document.pages), before, after


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("cases", type=Path)
    given = parser.parse_args()
    scores: dict[str, list[tuple[float, str]]] = defaultdict(list)
    times: dict[str, float] = defaultdict(float)
    converting = 0.0
    faulty: list[str] = []
    fits: list[tuple[str, int, int, int]] = []
    with PagePool() as pool, tempfile.TemporaryDirectory() as folder:
        for source in sorted(given.cases.glob("*/source.*")):
            name, native = source.parent.name, source.suffix == ".pdf"
            started = time.perf_counter()
            made = convert(source, pool, Path(folder) / name)
            taken = time.perf_counter() - started
            native = native and all(page.kind is PageKind.NATIVE for page in made.pages)
            of_formats: dict[str, float] = defaultdict(float)
            files = written(made, of_formats)
            wanted = words_of(WRITERS["docx"], files["docx"])
            for format_, data in files.items():
                found = words_of(WRITERS[format_], data)
                scores[format_].append((share_there(found, wanted, spells_labels=format_ in SPELLING_LABELS), name))
            for format_ in PACKAGES:
                take_in_again(made, WRITERS[format_], name, pool, Path(folder))
            faulty += [f"{name}.{one}" for one in PACKAGES if has_findings(WRITERS[one], files[one])]
            if native:
                converting += taken
                for format_, seconds in of_formats.items():
                    times[format_] += seconds
                fits.append((name, *fitted(made)))
    for format_, of_format in scores.items():
        of_format.sort()
        low = [f"{name} {score:.1f}" for score, name in of_format if score < 99.5]
        share = f"{times[format_] / converting:.2f} of converting" if converting else ""
        print(
            f"{format_:9} words {sum(score for score, _ in of_format) / len(of_format):.2f}  {share}  {', '.join(low)}"
        )
    print(f"packages with findings: {', '.join(faulty) or 'none'}")
    for name, wanted_pages, before, after in fits:
        print(f"{name:24} {wanted_pages:3} pages in the source, {before:3} as it comes out, {after:3} made to fit")
    if fits:
        same = [sum(fit[at] == fit[1] for fit in fits) for at in (2, 3)]
        print(f"as many pages as the source: {same[0]} of {len(fits)}, made to fit {same[1]}")


if __name__ == "__main__":
    main()
