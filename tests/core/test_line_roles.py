"""What holds for any document, on small real pages: which lines are one paragraph, a heading, an item, a row of a table."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.convert import source_pages_of
from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.fitted.trees import FOLDER, trees_of
from evenquill.core.layout.gutters import GUTTER_FEATURES
from evenquill.core.layout.tables.row_features import ROW_CLASSES, ROW_FEATURES
from evenquill.core.model import Align, Box, Family, Role
from evenquill.core.reading.jobs import page_jobs
from evenquill.core.reading.page_reader import read_source_page
from evenquill.core.rebuild import rebuild
from evenquill.core.rebuild.levels import ORDER_FEATURES, ORDERS
from evenquill.core.rebuild.structure.features import JOINT_FEATURES, ROLE_FEATURES
from evenquill.core.rebuild.structure.roles import JOINTS, ROLES
from evenquill.core.rebuild.structure.segments import LATER_LINES, NEW, best_division
from evenquill.core.source import SourceFacts, examine
from tests.conftest import grid, tables, text_blocks, texts

FIRST = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire before the evening tide came in over the sill."
)
SECOND = (
    "Levels before and after are given in the book. They agree within two millimetres, which is as near as the staff can be "
    "read in a swell; the difference has been shared out over the week in which it must have grown."
)


def pages_of(path, tmp_path):
    jobs = page_jobs(source_pages_of([(path, examine(path))]), tmp_path)
    return [read_source_page(job, lambda data, media: "") for job in jobs]


def test_a_double_spaced_typescript_has_paragraphs(typeset, rebuilt):
    source = '#set text(font: "DejaVu Sans Mono", size: 10pt)\n#set par(leading: 1.6em, spacing: 1.6em, first-line-indent: 3em)\n'
    assert texts(rebuilt(typeset(f"{source}{FIRST}\n\n{SECOND}\n\n{FIRST}"))) == [FIRST, SECOND, FIRST]


def test_a_chapter_title_at_the_right_is_a_heading(typeset, rebuilt):
    document = rebuilt(typeset(f"#align(right, text(18pt)[The five gauges])\n#v(1em)\n{FIRST}\n\n{SECOND}"))
    assert texts(document, Role.HEADING) == ["The five gauges"]


@pytest.mark.parametrize(("below", "headings"), [("4mm", ["Which sheets?"]), ("55mm", [])])
def test_a_remark_far_above_the_text_that_follows_heads_nothing(typeset, rebuilt, below, headings):
    remark = '#align(right, text(15pt, style: "italic", fill: rgb("#a04040"))[Which sheets?])'
    document = rebuilt(typeset(f"{FIRST}\n\n#v(8mm)\n{remark}\n\n#v({below})\n{SECOND}"))
    assert texts(document, Role.HEADING) == headings


def test_a_paragraph_in_the_middle_with_a_full_line_stays_whole(typeset, rebuilt):
    document = rebuilt(typeset(f"{FIRST}\n\n#align(center)[{SECOND}]\n\n{FIRST}"))
    assert texts(document) == [FIRST, SECOND, FIRST]
    assert text_blocks(document)[1].align is Align.CENTER


def test_rows_that_head_a_group_end_no_table(typeset, rebuilt):
    rows = [("Boilers", "", ""), ("Plates", "4 200,00", "266,35"), ("Stays", "1 150,00", "162,60")]
    rows += [("Wheels", "", ""), ("Tyres", "2 875,00", "0,00"), ("Pinions", "1 960,00", "450,55")]
    head = ["Account", "Planned", "Difference"]
    cells = ", ".join(f"[{text}]" for row in (head, *rows) for text in row)
    source = f"#table(columns: 3, stroke: none, align: (left, right, right), column-gutter: 2em, {cells})"
    (table,) = tables(rebuilt(typeset(f"{FIRST}\n\n{source}\n\n{SECOND}")))
    assert grid(table) == [head, *map(list, rows)]


def test_a_page_without_lines_changes_nothing_elsewhere(typeset, tmp_path):
    path = typeset(f"= The five gauges\n{FIRST}\n\n{SECOND}\n#pagebreak()\n= The staff\n{SECOND}\n\n{FIRST}")
    pages = pages_of(path, tmp_path)
    whole = rebuild(pages, SourceFacts(pages=2))
    blank = replace(pages[0], number=3, lines=(), rules=(), boxes=())
    with_blank = rebuild([*pages, blank], SourceFacts(pages=3))
    assert [(b.role, b.text) for b in text_blocks(with_blank)] == [(b.role, b.text) for b in text_blocks(whole)]


def test_dots_within_a_sentence_stay(typeset, rebuilt):
    sentence = f"He said: well.... and then no more. {FIRST}"
    assert texts(rebuilt(typeset(f'#"{sentence}"\n\n{SECOND}'))) == [sentence, SECOND]


@pytest.mark.parametrize(
    "source", ["North pier", ". . . . . . . . . . . .", " ".join(["weed"] * 3000), "Նավահանգիստ կայան " * 30]
)
def test_odd_documents_keep_their_text(typeset, rebuilt, source):
    found = "".join(texts(rebuilt(typeset(source)))).replace("\n", "")
    assert found.count("weed") == source.count("weed")
    assert source.split()[0][:1] in found or not found.strip(". ")


def test_raised_figures_and_endless_numbers_are_measured_like_others():
    look = Type("Serif", Family.SERIF, 10.0)
    texts_at = (
        "² Read at noon",
        f"{'7' * 5000} of {'8' * 5000}",
        "The float was found hard.",
        "The well was pumped dry.",
    )

    def line(text: str, y: float, size: float) -> Line:
        words = tuple(Word(word, 50 + 40 * n, 85 + 40 * n, 0) for n, word in enumerate(text.split()))
        return Line(Box(50, y - 8, words[-1].x1, y + 2), y, size, words)

    for size in (10.0, 0.0):
        lines = tuple(line(text, 60.0 + 30 * n, size) for n, text in enumerate(texts_at))
        document = rebuild([PageEvidence(1, 420.0, 595.0, types=(look,), lines=lines)], SourceFacts(pages=1))
        kept = " ".join(text.readable for text in document.texts)
        ran = " ".join(
            run.text
            for part in document.running
            for one in (part.usual.header, part.usual.footer)
            if one is not None
            for run in one.content
        )
        assert "found hard" in kept + ran


@pytest.mark.parametrize(
    ("name", "classes", "features"),
    [
        ("joints", len(JOINTS), len(JOINT_FEATURES)),
        ("roles", len(ROLES), len(ROLE_FEATURES)),
        ("rows", len(ROW_CLASSES), len(ROW_FEATURES)),
        ("gutters", 2, len(GUTTER_FEATURES)),
        ("levels", len(ORDERS), len(ORDER_FEATURES)),
    ],
)
def test_trees_give_each_row_the_leaves_that_walking_down_reaches(name, classes, features):
    trees = trees_of(name)
    rows = np.random.default_rng(1).uniform(-5, 5, (700, features)).astype(np.float32)
    found = trees.log_probabilities(rows)
    assert found.shape == (700, classes)
    assert np.exp(found).sum(axis=1) == pytest.approx(1, abs=1e-4)
    with np.load(FOLDER / f"{name}.npz") as arrays:
        nodes = dict(arrays)
    for n in (0, 255, 256, 699):
        scores = trees.base.astype(float).copy()
        for t in range(len(nodes["feature"])):
            node = -1
            below = 0
            while below != node:
                node = below
                side = "right" if rows[n, nodes["feature"][t, node]] > nodes["threshold"][t, node] else "left"
                below = nodes[side][t, node]
            scores[t % classes] += nodes["value"][t, node]
        assert found[n] == pytest.approx(scores - np.log(np.exp(scores).sum()), abs=1e-3)


@given(st.integers(1, 4), st.integers(0, 10_000))
@settings(max_examples=60, deadline=None)
def test_the_division_of_a_column_is_the_most_probable_one(lines, seed):
    rng = np.random.default_rng(seed)
    roles = np.full((lines, len(ROLES)), -30.0, np.float32)
    roles[:, :3] = np.log(rng.dirichlet((1, 1, 1), lines))
    joints = np.log(rng.dirichlet((1, 1, 1), lines)).astype(np.float32)
    follows = rng.normal(0, 0.5, (len(ROLES), len(ROLES))).astype(np.float32)

    def worth(kinds: tuple[int, ...], starts: tuple[bool, ...]) -> float:
        total = float(roles[0, kinds[0]])
        for n in range(1, lines):
            if starts[n]:
                total += joints[n, NEW] + roles[n, kinds[n]] + follows[kinds[n - 1], kinds[n]]
            elif kinds[n] != kinds[n - 1]:
                return -1e9
            else:
                total += max(joints[n, 1:]) + LATER_LINES * roles[n, kinds[n]]
        return total

    ways = [
        (kinds, (True, *starts))
        for kinds in itertools.product(range(3), repeat=lines)
        for starts in itertools.product((True, False), repeat=lines - 1)
    ]
    best = max(ways, key=lambda way: worth(*way))
    found = best_division(roles, joints, follows)
    assert [ROLES.index(one.role) for one in found] == list(best[0])
    assert [n for n, one in enumerate(found) if not n or one.joint == "new"] == [
        n for n, start in enumerate(best[1]) if start
    ]


def test_dirt_before_one_line_sets_no_other_line_in(typeset, tmp_path):
    path = typeset(f"{FIRST}\n\n{SECOND}\n\n{FIRST}")
    (page,) = pages_of(path, tmp_path)
    dirty = page.lines[1]
    first = dirty.words[0]
    words = (first._replace(x0=first.x0 - 5), *dirty.words[1:])
    lines = list(page.lines)
    lines[1] = dirty._replace(words=words, box=dirty.box._replace(x0=dirty.box.x0 - 5))
    document = rebuild([replace(page, lines=tuple(lines))], examine(path))
    assert [style.first for style in document.styles if style.first] == []
