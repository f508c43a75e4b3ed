"""The factory of documents with truth: what is drawn is set and described alike, and lines are given to the part that they are of."""

from __future__ import annotations

import random
from dataclasses import replace
from html.parser import HTMLParser

import numpy as np
import pypdfium2 as pdfium
import pytest
import typst
from corpus.doubts import doubts_about
from corpus.families import FAMILIES
from corpus.labels import Piece, Truth, letters, pieces_of
from corpus.look import draw_look, ordinal
from corpus.numbering import with_numbers
from corpus.prose import Prose, Writer
from corpus.real_tex import blocks_of_tex
from corpus.set_html import html_of, without_notes
from corpus.set_latex import as_class_has_it, latex_source
from corpus.set_typst import typst_of
from corpus.truth import expected
from corpus.typefaces import whole_among, with_whole_typefaces
from corpus.variations import with_cover, with_extras, with_lines_around_title, with_sides
from corpus.within_pages import check_within_pages

SENTENCES = (
    "The float was found hard against the guide wire.",
    "The well was pumped dry and the orifice cleared of weed.",
    "Levels before and after are given in the book & in its index.",
)
PROSE = Prose(
    "en",
    (SENTENCES, SENTENCES[::-1]),
    ("The five gauges", "State of the wells", "Costs"),
    ("a float and its wire", "a drum with paper for a week"),
    (
        "float",
        "wire",
        "gauge",
        "drum",
        "paper",
        "staff",
        "pier",
        "slip",
        "stairs",
        "sill",
        "datum",
        "tide",
        "clock",
        "well",
    ),
)


def drawn(family: str, seed: int):
    rng = random.Random(seed)
    look = draw_look(rng, family, "en")
    writer = Writer(PROSE, rng)
    made = with_lines_around_title(FAMILIES[family](writer, rng), writer, rng)
    made = with_cover(with_extras(made, writer, rng), writer, rng)
    return with_numbers(with_sides(made, writer, seed), look), look


class TextOf(HTMLParser):
    def __init__(self, source: str) -> None:
        super().__init__()
        self.parts: list[str] = []
        self.feed(source.partition("<body>")[2])

    def handle_data(self, data: str) -> None:
        self.parts.append(data)


def said(truth: dict) -> list[str]:
    return [letters(piece.text) for piece in pieces_of(truth["blocks"])]


@pytest.mark.parametrize("family", FAMILIES)
def test_all_that_should_come_out_is_in_what_is_set(family):
    for seed in (1, 2):
        made, look = drawn(family, seed)
        assert (made, look) == drawn(family, seed)
        bare = without_notes(made)
        shown = letters("".join(TextOf(html_of(bare, look, notes=False)).parts))
        truth = expected(bare, look, 2, "x")
        # Capitals and the signs between label and value are made by style and place.
        assert all(piece in shown for piece in said(truth))
        page = pdfium.PdfDocument(typst.compile(typst_of(made, look).encode()))
        letters_of_pages = letters("".join(page[n].get_textpage().get_text_range() for n in range(len(page))))
        assert np.mean([part[:8] in letters_of_pages for part in said(expected(made, look, len(page), "x"))]) > 0.9


@pytest.mark.parametrize(
    ("sign", "number", "written"),
    [("1.", 3, "3."), ("(a)", 2, "(b)"), ("I.", 4, "IV."), ("(i)", 9, "(ix)"), ("A", 5, "E")],
)
def test_numbers_of_items_are_written_as_their_pattern_says(sign, number, written):
    assert ordinal(sign, number) == written


def test_a_typeface_without_bold_or_slanted_letters_gives_way_to_a_whole_one():
    listed = (
        "Lato|80|0|0\nLato|200|0|0\nLato|80|100|0\nCantarell|80|0|0\nCantarell|200|0|0\n"
        "Inter|[0 210]|0|0\nInter|200|100|65537\nFanwood|80|0|0\nFanwood|80|100|0\nVollkorn|200|100|0\n"
    )
    whole = whole_among(listed)
    assert whole == {"Lato", "Vollkorn"}
    _, look = drawn("letter", 1)
    look = with_whole_typefaces(replace(look, text_font="Cantarell", head_font="Fanwood"), "en", whole)
    assert (look.text_font, look.head_font) == ("Lato", "Vollkorn")


def test_a_document_with_text_off_its_pages_is_none():
    check_within_pages(typst.compile(b"#set page(width: 200pt, height: 100pt)\n#place(dx: 30pt)[Gauge]"))
    with pytest.raises(ValueError, match="off the page"):
        check_within_pages(typst.compile(b"#set page(width: 200pt, height: 100pt)\n#place(dx: 400pt)[Gauge]"))


def test_lines_are_given_to_the_part_that_they_are_of():
    pieces = [
        Piece("heading", "The five gauges", 0),
        Piece("text", "The float was found hard against the guide wire.", 1),
        Piece("lines", "Lower Quay 4\nSkerrin", 2),
        Piece("item", "a float", 3),
    ]
    truth = Truth(pieces, ["Gauges, page {n}"])
    lines = [
        "The five gauges",
        "The float was found hard",
        "against the guide wire.",
        "Lower Quay 4",
        "Skerrin",
        "7. a float",
    ]
    found = [truth.label(line) for line in lines]
    assert [(label.block, label.role) for label in found] == [
        (0, "heading"), (1, "text"), (1, "text"), (2, "lines"), (2, "lines"), (3, "item"),
    ]  # fmt: skip
    assert found[2].start == found[1].end
    assert [label.after_break for label in found] == [False, False, False, False, True, False]
    assert truth.label("Gauges, page 12", at_edge=True).role == "running"
    assert truth.label("nothing of the kind") is None


def test_a_line_with_letters_misread_is_still_found():
    truth = Truth([Piece("text", SENTENCES[0] + " " + SENTENCES[1], 0), Piece("text", SENTENCES[2], 1)])
    label = truth.label("The well was pumpcd dry and the orilice cleared of wecd.")
    assert (label.block, label.role) == (0, "text")
    assert truth.label("Nothing of all this stands anywhere in what was set.") is None


@pytest.mark.parametrize("family", FAMILIES)
def test_what_latex_is_given_says_all_and_closes_what_it_opens(family):
    made, look = drawn(family, 4)
    source = latex_source(made, as_class_has_it(look, 4), 4)
    bare = letters(source)
    whole = [piece for piece in said(expected(made, as_class_has_it(look, 4), 2, "x")) if len(piece) < 60]
    assert np.mean([piece in bare for piece in whole]) > 0.6
    assert source.count(r"\begin{") == source.count(r"\end{")
    unescaped = source.replace(r"\{", "").replace(r"\}", "")
    assert unescaped.count("{") == unescaped.count("}")


def test_wrong_rows_are_counted_and_those_with_a_query(rebuilt, typeset):
    document = rebuilt(typeset(f"= Gauges\n{' '.join(SENTENCES)}\n\n{' '.join(SENTENCES[::-1])}"))
    right = [
        {"type": "heading", "text": "Gauges"},
        *({"type": "paragraph", "text": " ".join(part)} for part in PROSE.paragraphs),
    ]
    assert doubts_about(document, right)["caught"] is None
    assert doubts_about(document, right[1:])["caught"] == 0


TEX = r"""\documentclass{article}
\usepackage{nothing-has-this}
\newcommand{\gauge}{float gauge}
\title{The gauges of Orlin} \author{T. Harvel} \date{3 May 1974}
\begin{document}
\maketitle
\section{Wells}
The \gauge{} was \emph{hard} against its wire.\footnote{It was new.} It fell by $h_0$, as
\[ h = h_0 + v t \]
says.
\paragraph{Costs} None are known.
\begin{itemize}
\item Wire \begin{enumerate}\item thin \end{enumerate}
\end{itemize}
\begin{tabular}{ll} Well & Depth \\ North & 2 \end{tabular}
\begin{verbatim}
read 1
\end{verbatim}
\end{document}
"""


def test_the_truth_of_a_real_document_is_read_from_its_source(tmp_path):
    (tmp_path / "gauges.tex").write_text(TEX)
    found = blocks_of_tex(tmp_path / "gauges.tex")
    assert [(block["type"], block.get("text", block.get("tex"))) for block in found] == [
        ("heading", "The gauges of Orlin"),
        ("paragraph", "T. Harvel"),
        ("paragraph", "3 May 1974"),
        ("heading", "Wells"),
        ("paragraph", r"The float gauge was hard against its wire. It fell by \(h_0\), as"),
        ("footnote", "It was new."),
        ("equation", "h = h_0 + v t"),
        ("paragraph", "says."),
        ("paragraph", "Costs None are known."),
        ("list_item", "Wire"),
        ("list_item", "thin"),
        ("table", None),
        ("code", "read 1"),
    ]
    assert found[4]["italic"] == ["hard"]
    assert found[8]["bold"] == ["Costs"]
    assert [(block["ordered"], block["depth"]) for block in found[9:11]] == [(False, 0), (True, 1)]
    assert [[cell["text"] for cell in row] for row in found[11]["rows"]] == [["Well", "Depth"], ["North", "2"]]
