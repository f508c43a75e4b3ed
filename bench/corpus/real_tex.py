"""Real documents set by TeX: whole ones of documentation packages, with the truth that pandoc reads from the source beside the PDF."""

from __future__ import annotations

import json
import random
import re
import subprocess
from collections import Counter
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import msgspec
import pikepdf
import pypandoc
import pypdfium2 as pdfium

from .evidence import Evidence, read
from .labels import letters
from .set_latex import BABEL

PACKAGES = ("texlive-latex-extra-doc", "texlive-latex-base-doc", "texlive-pictures-doc", "texlive-fonts-extra-doc")

DOCUMENTS = "usr/share/doc/texlive-doc"
MOST_PAGES = 40
MOST_OF_A_PACKAGE = 4
"""Documents of one folder, so that no hand counts for too much."""

LEAST_IN_TRUTH, LEAST_IN_PDF, WHOLE = 0.4, 0.7, 0.8
"""Share of the long lines of the PDF that must be in the truth, and of the truth's blocks that must be on its pages; and the share of
either from which the truth is of the whole document: others are good to learn from, not to measure."""

LARGER = 1.12
"""Size over the text's own from which a line is larger."""

FEWEST_LINES = 8
"""Printed lines of a document."""

PATIENCE = 20
"""Seconds that pandoc may take for a source."""

LANGUAGES = {name: code for code, name in BABEL.items()} | {
    "american": "en", "british": "en", "german": "de", "francais": "fr", "frenchb": "fr", "brazil": "pt", "brazilian": "pt", "polish": "pl",
    "russian": "ru",
}  # fmt: skip
"""Codes of languages by the names that babel has for them."""

LISTS = re.compile(r"^[^%\n]*\\(tableofcontents|printbibliography|bibliography\{)", re.M)
FLOATS = re.compile(r"^[^%\n]*\\begin\{(figure|table|wrapfigure)", re.M)
"""What prints text that is not in the source, and what TeX puts where there is room."""


def cut_all_tex(folder: Path, workers: int) -> list[str]:
    """Makes cases of all documents below ``folder / "tex"``. Returns what cannot be used, and why."""
    groups: dict[Path, list[Path]] = {}
    for pdf in sorted((folder / "root" / DOCUMENTS).rglob("*.pdf")):
        if pdf.with_suffix(".tex").exists():
            groups.setdefault(pdf.parent, []).append(pdf)
    todo = []
    for place, own in sorted(groups.items()):
        random.Random(str(place.name)).shuffle(own)
        todo.append((place.name, own))
    with ProcessPoolExecutor(workers) as pool:
        return [line for lines in pool.map(_cut, todo, [folder] * len(todo), chunksize=4) for line in lines]


def _cut(group: tuple[str, list[Path]], folder: Path) -> list[str]:
    name, found = group
    said, kept = [], 0
    for pdf in found[: 3 * MOST_OF_A_PACKAGE]:
        if kept == MOST_OF_A_PACKAGE:
            break
        try:
            why = _case(pdf, folder / "tex" / f"{name}-{pdf.stem}")
        except Exception as error:
            why = f"{type(error).__name__}: {error}"
        kept += not why
        if why:
            said.append(f"{name}/{pdf.stem}: {why}")
    return said


def _case(pdf: Path, case: Path) -> str:
    """Makes a case of a PDF whose source stands beside it. Returns why it can't be used; nothing if it can."""
    if (case / "expected.json").exists():
        return ""
    with pikepdf.open(pdf) as opened:
        pages = len(opened.pages)
    if pages > MOST_PAGES:
        return f"{pages} pages"
    source = pdf.with_suffix(".tex").read_text("utf-8", "replace")
    blocks = blocks_of_tex(pdf.with_suffix(".tex"))
    if not blocks:
        return "no text in the source"
    document = pdfium.PdfDocument(pdf)
    printed = [line for page in document for line in page.get_textpage().get_text_range().splitlines()]
    document.close()
    in_truth, in_pdf = _shares(printed, blocks)
    if in_truth < LEAST_IN_TRUTH or in_pdf < LEAST_IN_PDF or len(printed) < FEWEST_LINES:
        return f"{in_truth:.0%} of the lines are in the source, {in_pdf:.0%} of {len(blocks)} blocks on the pages"
    blocks = list(_with_numbers(blocks, printed))
    case.mkdir(parents=True, exist_ok=True)
    (case / "source.pdf").write_bytes(pdf.read_bytes())
    evidence = read(case)
    told = list(_without_looks_by_hand(blocks, evidence))
    truth = {
        "case": case.name, "kind": "native", "language": _language(source), "pages": pages, "blocks": told,
        "furniture": {"header": [], "footer": []}, "marks": [], "broken_words": [], "family": "tex",
        "partial": min(in_truth, in_pdf) < WHOLE or told != blocks or bool(LISTS.search(source)),
        "floats": bool(FLOATS.search(source)),
    }  # fmt: skip
    (case / "evidence").write_bytes(msgspec.msgpack.encode(evidence))
    (case / "expected.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1))
    return ""


def _shares(printed: Sequence[str], blocks: Sequence[dict]) -> tuple[float, float]:
    """The share of the long printed lines that are in the blocks of a source, and of the blocks that are printed. Numbers are not looked
    at: TeX makes many."""
    lines = [own for line in printed if (own := _words(line))]
    long = [line for line in lines if len(line) > 20]
    whole, shown = "".join(_words(_plain(block)) for block in blocks), "".join(lines)
    texts = [text for block in blocks if len(text := _words(_plain(block))) > 12]
    in_truth = sum(line in whole for line in long) / len(long) if long else 0.0
    in_pdf = sum(text[:12] in shown or text[-12:] in shown for text in texts) / len(texts) if texts else 0.0
    return in_truth, in_pdf


def _without_looks_by_hand(blocks: Sequence[dict], evidence: Evidence) -> Iterator[dict]:
    """The blocks without paragraphs that are set larger than the text, or bold as a whole: the source does not tell whether they are
    headings."""
    lines = [line for page in evidence.pages for line in page.lines]
    sizes = Counter[float]()
    for line in lines:
        sizes[round(line.size, 1)] += len(line.text)
    usual = sizes.most_common(1)[0][0]
    large = {letters(line.text) for line in lines if line.size > LARGER * usual}
    for block in blocks:
        is_plain = block["type"] == "paragraph" and block.get("part") == "text"
        by_hand = is_plain and (
            block.get("bold") == [block["text"]] or any(letters(part) in large for part in block["text"].split("\n"))
        )
        if not by_hand:
            yield block


def _words(text: str) -> str:
    """Letters alone, without digits, accents and case."""
    return "".join(c for c in letters(text) if not c.isdigit())


def _with_numbers(blocks: Sequence[dict], printed: Sequence[str]) -> Iterator[dict]:
    """Headings with the numbers that are printed before them, as TeX counts them."""
    shown = {letters(line) for line in printed}
    counts: list[int] = []
    for block in blocks:
        if block["type"] == "heading" and block.get("part") == "heading" and block.pop("counted", False):
            level = block["level"]
            counts = [*counts[:level], *[0] * (level - len(counts))]
            counts[-1] += 1
            number = ".".join(map(str, counts))
            start = letters(number + block["text"])[:24]
            if any(line.startswith(start) for line in shown):
                block = block | {"text": f"{number} {block['text']}"}
        yield block


def _language(source: str) -> str:
    names = re.findall(r"\\usepackage\[([^\]]*)\]\{babel\}|\\documentclass\[([^\]]*)\]", source)
    for option in ",".join(part for pair in names for part in pair).split(",")[::-1]:
        if option.strip() in LANGUAGES:
            return LANGUAGES[option.strip()]
    return "en"


def _plain(block: dict) -> str:
    if block["type"] == "table":
        return " ".join(cell["text"] for row in block["rows"] for cell in row)
    return re.sub(r"\\\(.*?\\\)", "", block.get("text", ""))


def blocks_of_tex(source: Path) -> list[dict]:
    """The blocks of a source, as the scorer wants them. Raises CalledProcessError or TimeoutExpired for one that pandoc can't read."""
    text = source.read_text("utf-8", "replace")
    try:
        document = _read_by_pandoc(text, source.parent)
    except subprocess.CalledProcessError:
        document = _read_by_pandoc(_without_preamble(text), source.parent)
    run_in = 5 if re.search(r"^[^%\n]*\\chapter", text, re.M) else 4
    out: list[dict] = []
    if "\\maketitle" in text:
        for key in ("title", "author", "date"):
            for inlines in _meta(document["meta"].get(key)):
                if block := _inlines(inlines, "heading" if key == "title" else "paragraph"):
                    out.append(block | ({"level": 1} if key == "title" else {"part": "lines"}))
    for blocks in _meta(document["meta"].get("abstract")):
        out += list(_walk(blocks, 0, run_in))
    return [*out, *_with_run_in(list(_walk(document["blocks"], 0, run_in)))]


def _read_by_pandoc(text: str, folder: Path) -> dict:
    run = subprocess.run(
        [pypandoc.get_pandoc_path(), "-f", "latex", "-t", "json"],
        cwd=folder, input=text.encode(), capture_output=True, check=True, timeout=PATIENCE,
    )  # fmt: skip
    return json.loads(run.stdout)


def _without_preamble(text: str) -> str:
    """A source whose definitions pandoc can't read: its text alone, with title, author and date."""
    preamble, _, body = text.partition("\\begin{document}")
    said = re.findall(r"^\\(?:title|author|date)\{.*\}$", preamble, re.M)
    return "\n".join((*said, "\\begin{document}", body))


def _meta(value: dict | None) -> Iterator[list]:
    if value is None:
        return
    if value["t"] == "MetaList":
        for one in value["c"]:
            yield from _meta(one)
    elif value["t"] in ("MetaInlines", "MetaBlocks"):
        yield value["c"]


def _with_run_in(blocks: Sequence[dict]) -> Iterator[dict]:
    """Headings that run into the paragraph behind them are the bold beginning of it."""
    waiting: dict | None = None
    for block in blocks:
        if waiting is not None and block["type"] == "paragraph":
            start = waiting["text"]
            block = block | {"text": f"{start} {block['text']}", "bold": [start, *block.get("bold", [])]}
        elif waiting is not None:
            yield {"type": "paragraph", "text": waiting["text"], "bold": [waiting["text"]], "part": "text"}
        waiting = block if block["type"] == "run-in" else None
        if waiting is None:
            yield block


def _walk(blocks: Sequence[dict], depth: int, run_in: int, part: str = "text", align: str = "") -> Iterator[dict]:
    for one in blocks:
        kind, content = one["t"], one.get("c")
        if kind in ("Para", "Plain"):
            yield from _paragraph(content, part, align)
        elif kind == "LineBlock":
            joined = [inline for line in content for inline in (*line, {"t": "LineBreak"})][:-1]
            yield from _paragraph(joined, part, align)
        elif kind == "Header":
            if block := _inlines(content[2], "heading"):
                counted = "unnumbered" not in content[1][1]
                more = {"level": content[0], "part": "heading", "counted": counted}
                yield block | (more if content[0] < run_in else {"type": "run-in"})
        elif kind in ("BulletList", "OrderedList"):
            for item in content if kind == "BulletList" else content[1]:
                yield from _item(item, depth, run_in, ordered=kind == "OrderedList")
        elif kind == "DefinitionList":
            for term, meanings in content:
                start = _inlines(term, "paragraph")
                inner = [block for meaning in meanings for block in _walk(meaning, depth, run_in, "meaning")]
                if inner and start and inner[0]["type"] == "paragraph":
                    inner[0] = inner[0] | {"text": f"{start['text']} {inner[0]['text']}", "part": "term"}
                elif start:
                    inner.insert(0, start | {"part": "term"})
                yield from inner
        elif kind == "CodeBlock":
            if content[1].strip():
                yield {"type": "code", "part": "code", "text": content[1].strip("\n")}
        elif kind == "BlockQuote":
            yield from _walk(content, depth, run_in, "quotation", align)
        elif kind == "Div":
            names = content[0][1]
            own = "center" if "center" in names else "right" if "flushright" in names else align
            yield from _walk(content[1], depth, run_in, part, own)
        elif kind == "Table":
            yield from _table(content)
        elif kind == "Figure":
            yield {"type": "figure"}


def _item(item: Sequence[dict], depth: int, run_in: int, *, ordered: bool) -> Iterator[dict]:
    first = True
    for block in _walk(item, depth + 1, run_in, "item"):
        if first and block["type"] == "paragraph":
            block = block | {"type": "list_item", "part": "item", "ordered": ordered, "depth": depth}
        first = False
        yield block


def _paragraph(inlines: Sequence[dict], part: str, align: str) -> Iterator[dict]:
    for group in _parted(inlines):
        if len(group) == 1 and group[0]["t"] == "Math" and group[0]["c"][0]["t"] == "DisplayMath":
            yield {"type": "equation", "tex": group[0]["c"][1].strip(), "display": True}
        elif len(group) == 1 and group[0]["t"] == "Image":
            yield {"type": "figure"}
        elif block := _inlines(group, "paragraph"):
            notes = block.pop("notes", [])
            yield block | {"part": part} | ({"align": align} if align else {})
            yield from notes


def _parted(inlines: Sequence[dict]) -> Iterator[list[dict]]:
    """Displayed formulas and pictures stand by themselves."""
    group: list[dict] = []
    for one in inlines:
        if one["t"] == "Image" or (one["t"] == "Math" and one["c"][0]["t"] == "DisplayMath"):
            if group:
                yield group
            yield [one]
            group = []
        else:
            group.append(one)
    if group:
        yield group


def _inlines(inlines: Sequence[dict], kind: str) -> dict:
    """A block of inline elements: its text, its bold and italic phrases, its notes; nothing if it has no letters."""
    found: dict[str, list] = {"bold": [], "italic": [], "notes": []}
    text = _text(inlines, found)
    text = "\n".join(" ".join(line.split()) for line in text.split("\n")).strip()
    if not any(c.isalnum() for c in text):
        return {}
    block = {"type": kind, "text": text} | {key: own for key, own in found.items() if own}
    if kind == "heading":
        block = {"type": kind, "text": " ".join(text.split())}
    return block


def _text(inlines: Sequence[dict], found: dict[str, list]) -> str:
    out = []
    for one in inlines:
        kind, content = one["t"], one.get("c")
        if kind == "Str":
            out.append(content)
        elif kind in ("Space", "SoftBreak"):
            out.append(" ")
        elif kind == "LineBreak":
            out.append("\n")
        elif kind in ("Emph", "Strong"):
            inner = _text(content, found)
            if inner.strip():
                found["italic" if kind == "Emph" else "bold"].append(" ".join(inner.split()))
            out.append(inner)
        elif kind in ("Underline", "Strikeout", "Superscript", "Subscript", "SmallCaps"):
            out.append(_text(content, found))
        elif kind == "Quoted":
            marks = "‘’" if content[0]["t"] == "SingleQuote" else "“”"
            out.append(marks[0] + _text(content[1], found) + marks[1])
        elif kind in ("Link", "Span", "Cite"):
            out.append(_text(content[1], found))
        elif kind == "Code":
            out.append(content[1])
        elif kind == "Math":
            out.append(f"\\({content[1]}\\)")
        elif kind == "Note":
            for block in content:
                if block["t"] in ("Para", "Plain") and (note := _inlines(block["c"], "footnote")):
                    found["notes"].append({"type": "footnote", "part": "footnote", "text": note["text"]})
    return "".join(out)


def _table(content: list) -> Iterator[dict]:
    rows = []
    groups = [content[3][1], *(rows for body in content[4] for rows in (body[2], body[3])), content[5][1]]
    for number, group in enumerate(groups):
        for _, cells in group:
            row = []
            for _, _, rowspan, colspan, blocks in cells:
                inner = list(_walk(blocks, 0, 9))
                cell = {"text": " ".join(block.get("text", "") for block in inner)}
                cell |= {"colspan": colspan} if colspan > 1 else {}
                cell |= {"rowspan": rowspan} if rowspan > 1 else {}
                row.append(cell | ({"header": True} if number == 0 else {}))
            rows.append(row)
    if rows:
        yield {"type": "table", "part": "table", "rows": rows}
