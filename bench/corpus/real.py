"""Real documents: slices of manuals that packages carry as PDF, with the truth from the HTML that was made from the same source."""

from __future__ import annotations

import gzip
import io
import json
import random
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import msgspec
import pikepdf
from lxml import html

from .evidence import read
from .labels import letters
from .prose import GUIDES

PACKAGES = (
    "installation-guide-amd64",
    *(
        f"lilypond-doc-{kind}{language}"
        for kind in ("pdf", "html")
        for language in ("", "-de", "-fr", "-es", "-it", "-nl", "-ca")
    ),
    "debmake-doc",
    "bash-doc",
    "octave-doc",
)

UNLIKE = ("ja", "ko", "zh_CN")
"""Languages written without spaces, whose lines can't be told apart by letters alone in this way."""

SLICE = 8
"""Pages of a slice."""

MOST_SLICES = 10
"""Slices of one document, so that no document counts for too much."""

LEAST_FOUND = 0.8
"""Share of the letters of a slice's pages that must be in the HTML."""


class Source(NamedTuple):
    """A document: its name, its PDF, its pages of HTML, its language."""

    name: str
    pdf: Path
    pages: tuple[Path, ...]
    language: str


def sources(root: Path) -> Iterator[Source]:
    """All that the unpacked packages have."""
    for folder in sorted((root / GUIDES).iterdir()):
        if folder.name in UNLIKE:
            continue
        for pdf in folder.glob("install.*.pdf.gz") if folder.is_dir() else ():
            yield Source(f"guide_{folder.name}", pdf, _in_order(folder.glob("*.html")), folder.name)
    music = root / "usr/share/doc/lilypond/html/Documentation"
    for pdf in sorted(music.glob("*.pdf")):
        manual, _, language = pdf.stem.partition(".")
        big = music / manual / f"big-page{'.' + language if language else ''}.html"
        one = music / f"{manual}-big-page{'.' + language if language else ''}.html"
        page = next((p for p in (one, big) if p.exists()), None)
        if page is not None and manual not in ("snippets", "internals", "notation"):
            yield Source(f"music_{manual}_{language or 'en'}", pdf, (page,), language or "en")
    for language in ("en", "de"):
        pdf = root / f"usr/share/doc/debmake-doc/debmake-doc.{language}.pdf"
        pages = _in_order((root / "usr/share/doc/debmake-doc/html").glob(f"*.{language}.html"))
        yield Source(f"packaging_{language}", pdf, pages, language)
    shell = root / "usr/share/doc/bash"
    yield Source("shell_en", shell / "bashref.pdf", tuple(shell.glob("bashref.html*")), "en")
    octave = root / "usr/share/doc/octave"
    yield Source("octave_en", octave / "octave.pdf", _in_order((octave / "octave.html").glob("*.html")), "en")


def _in_order(pages: Iterator[Path]) -> tuple[Path, ...]:
    return tuple(
        sorted(
            pages, key=lambda page: (not page.name.startswith(("index", "pr")), page.name.startswith("ap"), page.name)
        )
    )


def cut_all(folder: Path, workers: int) -> list[str]:
    """Makes slices of all documents below ``folder / "real"``. Returns what cannot be used, and why."""
    found = [source for source in sources(folder / "root") if source.pdf.exists() and source.pages]
    with ProcessPoolExecutor(workers) as pool:
        return [line for lines in pool.map(_cut, found, [folder] * len(found)) for line in lines]


def _cut(source: Source, folder: Path) -> list[str]:
    try:
        blocks = list(blocks_of(source.pages))
        data = gzip.decompress(source.pdf.read_bytes()) if source.pdf.suffix == ".gz" else source.pdf.read_bytes()
        pdf = pikepdf.open(io.BytesIO(data))
    except Exception as error:
        return [f"{source.name}: {type(error).__name__}: {error}"]
    whole = "".join(letters(block["text"]) for block in blocks)
    starts = list(range(0, len(pdf.pages) - SLICE + 1, SLICE))
    random.Random(source.name).shuffle(starts)
    said, kept = [], 0
    for start in starts[: 3 * MOST_SLICES]:
        if kept == MOST_SLICES:
            break
        case = folder / "real" / f"{source.name}-{start:04}"
        if (case / "expected.json").exists():
            kept += 1
            continue
        case.mkdir(parents=True, exist_ok=True)
        slice_ = pikepdf.new()
        slice_.add_pages_from(pdf, range(start, start + SLICE))
        slice_.save(case / "source.pdf")
        evidence = read(case)
        lines = [letters(line.text) for page in evidence.pages for line in page.lines]
        long = [line for line in lines if len(line) > 20]
        share = sum(line in whole for line in long) / max(len(long), 1)
        if share < LEAST_FOUND or len(long) < 40:
            said.append(f"{case.name}: {share:.0%} of {len(long)} lines are in the HTML")
            for file in sorted(case.rglob("*"), reverse=True):
                file.unlink() if file.is_file() else file.rmdir()
            case.rmdir()
            continue
        own = _of_slice(blocks, lines)
        truth = {
            "case": case.name, "kind": "native", "language": source.language, "pages": SLICE, "blocks": own,
            "furniture": {"header": [], "footer": []},
            "marks": [], "broken_words": [], "partial": True, "family": source.name.split("_")[0],
        }  # fmt: skip
        (case / "evidence").write_bytes(msgspec.msgpack.encode(evidence))
        (case / "expected.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1))
        kept += 1
    return said


def _of_slice(blocks: Sequence[dict], lines: Sequence[str]) -> list[dict]:
    """The blocks from the first to the last of which a long line of the slice is a part, wherever most of the lines are."""
    texts = [letters(block["text"]) for block in blocks]
    whole, owner = "".join(texts), [n for n, text in enumerate(texts) for _ in text]
    found = []
    for line in lines:
        if len(line) > 25:
            place = whole.find(line)
            if place >= 0 and whole.find(line, place + 1) < 0:
                found.append(owner[place])
    found.sort()
    middle = found[len(found) // 2] if found else 0
    near = [n for n in found if abs(n - middle) < 600]
    return list(blocks[near[0] : near[-1] + 1]) if near else []


HEADINGS = {"h1": 1, "h2": 2, "h3": 3, "h4": 4, "h5": 5, "h6": 6}

BLOCKS = frozenset(
    ("p", "li", "pre", "dt", "dd", "td", "th", "blockquote", "div", "table", "ul", "ol", "dl", *HEADINGS)
)


def blocks_of(pages: Sequence[Path]) -> Iterator[dict]:
    """The paragraphs, headings, items and so on of pages of HTML, in order: kind, level or depth, and text."""
    for page in pages:
        data = gzip.decompress(page.read_bytes()) if page.suffix == ".gz" else page.read_bytes()
        root = html.fromstring(
            data.decode("utf-8", "replace").encode("utf-8"), parser=html.HTMLParser(encoding="utf-8")
        )
        for gone in root.xpath(
            "//script | //style | //head | //sup/a[@class='footnote'] | //*[contains(@class, 'nav')] | //a[@class='copiable-link']"
        ):
            gone.drop_tree()
        body = root.find("body")
        if body is not None:
            yield from _walk(body)


def _walk(element: html.HtmlElement) -> Iterator[dict]:
    own: list[str] = [element.text or ""]

    def flush() -> Iterator[dict]:
        text = " ".join("".join(own).split())
        own.clear()
        if any(c.isalnum() for c in text):
            yield _block(element, text)

    for child in element:
        if not isinstance(child.tag, str):
            own.append(child.tail or "")
            continue
        if child.tag == "pre":
            yield from flush()
            text = child.text_content().strip("\n")
            if text.strip():
                yield {"type": "code", "part": "code", "text": text}
        elif child.tag in HEADINGS:
            yield from flush()
            text = " ".join(child.text_content().split())
            if text:
                yield {"type": "heading", "part": "heading", "level": HEADINGS[child.tag], "text": text}
        elif child.tag in BLOCKS or any(isinstance(inner.tag, str) and inner.tag in BLOCKS for inner in child.iter()):
            yield from flush()
            yield from _walk(child)
        elif child.tag == "br":
            own.append(" ")
        else:
            own.append(child.text_content())
        own.append(child.tail or "")
    yield from flush()


def _block(element: html.HtmlElement, text: str) -> dict:
    """The block that text directly within an element is, told by the nearest element around it that says something."""
    first = True
    node = element
    while node is not None:
        tag = node.tag
        kinds = (node.get("class") or "").split()
        if tag in ("td", "th"):
            return {"type": "paragraph", "part": "cell", "text": text}
        if tag == "dt":
            return {"type": "paragraph", "part": "term", "text": text}
        if tag == "dd":
            return {"type": "paragraph", "part": "meaning", "text": text}
        if tag == "blockquote":
            return {"type": "paragraph", "part": "quotation", "text": text}
        if "footnote" in kinds or "footnotes" in kinds or "footnotes-segment" in kinds:
            return {"type": "footnote", "part": "footnote", "text": text}
        if "title" in kinds and tag in ("p", "div"):
            return {"type": "paragraph", "part": "caption" if any(c.isdigit() for c in text) else "text", "text": text}
        if tag == "li":
            if not first:
                break
            lists = [n.tag for n in node.iterancestors("ul", "ol")]
            return {
                "type": "list_item",
                "part": "item",
                "ordered": bool(lists) and lists[0] == "ol",
                "depth": max(len(lists) - 1, 0),
                "text": text,
            }
        first = first and (
            node.getprevious() is None and not (node.getparent() is not None and (node.getparent().text or "").strip())
        )
        node = node.getparent()
    return {"type": "paragraph", "part": "text", "text": text}
