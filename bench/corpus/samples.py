"""What the models are fitted on: the measures of documents, and by their truth the classes of what was measured."""

from __future__ import annotations

import dataclasses
import json
import random
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from itertools import pairwise, permutations
from pathlib import Path
from statistics import mode

import numpy as np
from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.layout import find_furniture, lay_out
from evenquill.core.layout.edge_features import EDGE_FEATURES, edge_features
from evenquill.core.layout.edge_rows import edge_rows
from evenquill.core.layout.gutters import Gutter, gutter_features
from evenquill.core.layout.items import Item
from evenquill.core.layout.note_features import note_features, note_mark
from evenquill.core.layout.notes import NOTHING_BEFORE, note_columns
from evenquill.core.layout.page import PageLayout, bands_of, items_of, lines_of_text
from evenquill.core.layout.tables.row_features import ROW_CLASSES, row_features, rows_in_pieces
from evenquill.core.model import Role
from evenquill.core.rebuild.cuts import CLASSES as CUTS
from evenquill.core.rebuild.cuts import PICTURE, Cut, cut_features, cuts_in, indented_share, join_cut
from evenquill.core.rebuild.drafts import AnyDraft, Draft, all_texts, set_text
from evenquill.core.rebuild.facts import Facts, facts_of
from evenquill.core.rebuild.headings import join_labels
from evenquill.core.rebuild.levels import ORDERS, groups_of, order_features
from evenquill.core.rebuild.pair_blocks import CLASSES as PAIRS
from evenquill.core.rebuild.pair_blocks import OF_CASE, PairBlock, pair_blocks, pair_features
from evenquill.core.rebuild.paragraphs import drafts_of
from evenquill.core.rebuild.prepared import prepared
from evenquill.core.rebuild.structure.decide import Decisions, MeasuredDocument, decide
from evenquill.core.rebuild.structure.roles import JOINTS, ROLES

from .columns import TrueGutters
from .evidence import evidence_of
from .labels import Label, Truth, truth_of
from .looks import known_looks
from .words import judged_words

ROLE_OF_PART = {
    "text": "text", "lead": "text", "box": "text", "runin": "text", "quotation": "quotation", "verse": "verse",
    "lines": "lines", "hanging": "text", "heading": "heading", "item": "item", "term": "term", "meaning": "meaning", "code": "code",
    "contents": "contents", "caption": "caption", "pairs": "pairs", "cell": "cell", "footnote": "note",
}  # fmt: skip

KINDS = {
    "row": ROW_CLASSES,
    "joint": JOINTS,
    "role": ROLES,
    "edge": ("text", "running"),
    "gutter": ("within", "between"),
    "note": ("text", "note"),
    "cut": CUTS,
    "pair": PAIRS,
    "level": ORDERS,
    "bold": ("regular", "bold"),
    "italic": ("upright", "italic"),
    "word": ("right", "wrong"),
}
"""What is fitted, and the classes of each."""

STAGES = {
    "edges": ("edge",),
    "gutters": ("gutter",),
    "notes": ("note",),
    "rows": ("row",),
    "lines": ("joint", "role"),
    "pairs": ("pair",),
    "cuts": ("cut",),
    "levels": ("level",),
    "looks": ("bold", "italic"),
    "words": ("word",),
}
"""What is fitted together, in order: each stage is fitted on what those before it leave."""

OF_SCANS = {"looks": known_looks, "words": judged_words}
"""Stages that are fitted on scans alone, and what gives the kind, the measures and the class of each word of one whose printed document is
known."""

TITLE_SIZE = 1.04
"""Size over that of the text from which a row that says what running heads say is the title that they repeat."""

SMALL_LETTERS = 0.15
"""Share of running heads that are taken to begin with a small letter, as names and words for pages do that are not made here."""

PRETENDED, WITHIN = 0.3, 0.06
"""Share of neighbouring paragraphs, and of paragraphs, that a picture is thought between, or within: few real ones stand within one."""

WITHOUT_CASE = 0.4
"""Share of blocks of labels and values whose labels, or values, are taken to say nothing by their capitals."""

EDGE = 0.13
"""Share of the page at its head and foot within which a running head may stand."""


class Sample:
    """Measures and truth of one document, by what is fitted (see KINDS); ``follows`` counts, for roles and rows, classes after classes."""

    def __init__(self, case: Path, stage: str) -> None:
        self.name, self.is_real = case.name, case.parent.name == "real"
        self.measures: dict[str, list[Sequence[float]]] = {kind: [] for kind in KINDS}
        self.labels: dict[str, list[int]] = {kind: [] for kind in KINDS}
        self.follows = {kind: np.zeros((len(classes), len(classes))) for kind, classes in KINDS.items()}
        if stage in OF_SCANS:
            for kind, measures, label in OF_SCANS[stage](case) if case.parent.name == "scans" else ():
                self._take(kind, measures, label)
            return
        evidence = evidence_of(case)
        pages, _ = prepared(evidence.pages)
        truth = truth_of(case)
        if stage == "edges":
            # Of real documents it is not known what runs; all that is known is in the text.
            if not self.is_real:
                self._add_edges(pages, truth)
                # Parts of documents are documents too: a page alone, some pages from the middle.
                rng = random.Random(case.name)
                for _ in range(4 if len(pages) > 1 else 0):
                    start = rng.randrange(len(pages))
                    self._add_edges(pages[start : start + rng.choice((1, 1, 2, 3))], truth)
        elif stage == "gutters":
            self._add_gutters(pages, facts_of(pages, evidence.facts.language).text_type.size, truth)
        elif stage == "notes":
            self._add_notes(pages, facts_of(pages, evidence.facts.language).text_type.size, truth)
        elif stage == "rows":
            facts = facts_of(pages, evidence.facts.language)
            for page, bands in zip(pages, bands_of(pages, find_furniture(pages), facts.text_type.size), strict=True):
                for band in bands:
                    self._add_rows(page, [item.content for item in band.items if isinstance(item.content, Line)], truth)
        else:
            facts = facts_of(pages, evidence.facts.language)
            layouts = lay_out(pages, find_furniture(pages), facts.text_type)
            if stage == "lines":
                self._add_lines(MeasuredDocument(layouts, pages, facts, evidence.facts.outline), layouts, truth)
                return
            decisions = decide(layouts, pages, facts, evidence.facts.outline)
            if stage == "pairs":
                for column in (column for layout in layouts for column in layout.columns):
                    for block in pair_blocks(column.items, decisions):
                        self._add_pairs(block, decisions, truth)
            else:
                drafts, starts = drafts_of(layouts, decisions, facts)
                if stage == "cuts":
                    self._add_cuts(drafts, starts, facts, truth)
                else:
                    self._add_levels(join_labels(join_cut(drafts, starts, facts)), facts, truth, levels_in(case))

    def _add_gutters(self, pages: Sequence[PageEvidence], text_size: float, truth: Truth) -> None:
        """Strips that may be gutters, with whether text is read down both sides of them: once as if nothing were known of other pages,
        once with the columns that those have."""
        places: list[list[float]] = []
        furniture = find_furniture(pages)
        every = [items_of(page, lines_of_text(page, furniture, text_size))[0] for page in pages]
        judges = [TrueGutters(items, truth) for items in every]
        for items, page, judge in zip(every, pages, judges, strict=True):
            found: list[float] = []
            for gutters, own, likely in judge.judged(items):
                self._take_gutters(gutters, own, page, None, judge)
                found += [gutter.right for gutter, value in zip(gutters, likely, strict=True) if value == 1.0][:1]
            places.append(found)
        for n, (items, page, judge) in enumerate(zip(every, pages, judges, strict=True)):
            known = [place for m, own in enumerate(places) if m != n for place in own]
            if any(places):
                for gutters, own, _ in judge.judged(items, known):
                    self._take_gutters(gutters, own, page, known, judge)

    def _take_gutters(
        self,
        gutters: Sequence[Gutter],
        items: Sequence[Item],
        page: PageEvidence,
        known: Sequence[float] | None,
        judge: TrueGutters,
    ) -> None:
        for gutter, measures in zip(gutters, gutter_features(gutters, items, page.rules, known), strict=True):
            parts = judge.parts(gutter, items)
            if parts is not None:
                self._take("gutter", measures, int(parts))

    def _add_notes(self, pages: Sequence[PageEvidence], text_size: float, truth: Truth) -> None:
        """The lines of pages on which notes may be, with whether they are such."""
        furniture = find_furniture(pages)
        before = NOTHING_BEFORE
        for page in pages:
            lines = lines_of_text(page, furniture, text_size)
            columns = note_columns(lines, text_size, before, page.rules, frozenset())
            notes: list[tuple[str, list[Line]]] = []
            carried: list[Line] = []
            measures = note_features(columns, text_size, before, page.rules, frozenset()) if columns else []
            for column, rows in zip(columns, measures, strict=True):
                for line, row in zip(column, rows, strict=True):
                    label = truth.label(line.text)
                    if label is None or label.role == "running":
                        continue
                    is_note = label.role == "footnote"
                    self._take("note", row, int(is_note))
                    if is_note and label.start in truth.starts:
                        notes.append((note_mark(line), [line]))
                    elif is_note:
                        (notes[-1][1] if notes else carried).append(line)
            before = before.and_then(notes, carried)

    def _add_rows(self, page: PageEvidence, lines: Sequence[Line], truth: Truth) -> None:
        """The rows of a column, with what each is: known where most of its lines are found in the truth."""
        rows = rows_in_pieces(lines, page.types)
        if sum(len(row.pieces) > 1 for row in rows) < 2:
            return
        last: tuple[int, int] | None = None
        before = 0
        for row, measures in zip(rows, row_features(rows, page), strict=True):
            labels = [label for piece in row.pieces if (label := truth.label(piece.text)) is not None]
            cells = [label for label in labels if label.role == "cell"]
            if cells and self.is_real:
                continue  # it is not known which cells are in one row
            if labels and len(cells) == len(labels):
                block = cells[0].block
                place = max(truth.row_of_cell(label) for label in cells)
                header = all(truth.is_header(label) for label in cells)
                if last is None or last[0] != block:
                    kind = "first_header" if header else "first_row"
                else:
                    kind = "more" if place <= last[1] else "header" if header else "row"
                last = block, max(place, last[1] if last is not None and last[0] == block else place)
            elif labels:
                kind, last = "outside", None
            else:
                continue
            place_of_kind = ROW_CLASSES.index(kind)
            self._take("row", measures, place_of_kind)
            self.follows["row"][before, place_of_kind] += 1
            before = place_of_kind

    def _add_lines(self, document: MeasuredDocument, layouts: Sequence[PageLayout], truth: Truth) -> None:
        heights = {layout.number: layout.height for layout in layouts}
        row = 0
        for column in document.columns:
            before: list[Label] = []
            for line in column.lines:
                y = line.box.center_y / heights[line.page]
                label = truth.label(line.text, at_edge=y < EDGE or y > 1 - EDGE)
                pieces = [label] if label is not None else [truth.label(piece) for piece in line.text.split("\t")]
                known = [piece for piece in pieces if piece is not None and piece.role != "running"]
                if known and len(known) == len(pieces):
                    self._add(document, row, before, known[0], in_cell=column.in_cell)
                    same = [one for one in before if one.block == known[0].block]
                    before = [*same[-1:], *known]
                else:
                    before = []
                row += 1

    def _add_pairs(self, block: PairBlock, decisions: Decisions, truth: Truth) -> None:
        """The lines of a block of labels and values, with whether a row begins with each: known where those of two lines are found. Of some
        blocks the case of letters tells nothing, as where all labels are commands."""
        rng = random.Random(f"{self.name} {block.lines[0].box}")
        untold = {place for part in (OF_CASE[:2], OF_CASE[2:]) if rng.random() < WITHOUT_CASE for place in part}
        above: set[int] = set()
        measures: list[Sequence[float] | None] = [None]
        for one in pair_features(block, decisions):
            measures.append([UNMEASURED if place in untold else value for place, value in enumerate(one)])
        for line, own in zip(block.lines, measures, strict=True):
            labels = [truth.label(" ".join(word.text for word in words)) for words in block.cells(line).values()]
            rows = {label.block for label in labels if label is not None and label.role == "pairs"}
            if above and rows and own is not None:
                self._take("pair", own, int(not above & rows))
            above = rows

    def _add_cuts(self, drafts: Sequence[AnyDraft], starts: Sequence[int], facts: Facts, truth: Truth) -> None:
        """Where columns, pictures and tables stand between two paragraphs, and, as if a picture stood there, between some others that
        follow each other, and within some."""
        rng = random.Random(self.name)
        usual = indented_share(drafts)
        known: dict[int, tuple[Label | None, Label | None]] = {}
        for draft in drafts:
            if isinstance(draft, Draft):
                labels = [truth.label(line.text) for line in draft.lines]
                known[id(draft)] = labels[0], labels[-1]
                if len(labels) > 2 and rng.random() < WITHIN:
                    place = rng.randrange(1, len(labels))
                    above, below = replace_lines(draft, 0, place), replace_lines(draft, place, len(labels))
                    self._take_cut(Cut(above, below, PICTURE), labels[place - 1], labels[place], facts, usual)
        cuts = cuts_in(drafts, starts)
        follow = [(one, two) for one, two in pairwise(drafts) if isinstance(one, Draft) and isinstance(two, Draft)]
        cuts += [Cut(one, two, PICTURE) for one, two in follow if rng.random() < PRETENDED]
        for cut in cuts:
            self._take_cut(cut, known[id(cut.above)][1], known[id(cut.below)][0], facts, usual)

    def _take_cut(self, cut: Cut, last: Label | None, first: Label | None, facts: Facts, usual: float) -> None:
        if last is not None and first is not None and Role.CONTENTS not in (cut.above.role, cut.below.role):
            self._take("cut", cut_features(*cut, facts, usual), int(joint(last, first) != "new"))

    def _add_levels(self, drafts: list[AnyDraft], facts: Facts, truth: Truth, levels: Mapping[int, int]) -> None:
        """Each two looks that headings have, with which of them stands above the other."""
        for draft in all_texts(drafts):
            set_text(draft, facts)
        known: dict[int, int] = {}
        for draft in drafts:
            if isinstance(draft, Draft):
                label = truth.label(draft.lines[0].text)
                if label is not None and label.block in levels:
                    known[id(draft)] = levels[label.block]
        headings = [draft for draft in drafts if isinstance(draft, Draft) and id(draft) in known]
        groups = groups_of(headings, drafts)
        usual = [mode(known[id(draft)] for draft in group.headings) for group in groups]
        if len(groups) > 1:
            for (one, other), measures in zip(
                permutations(usual, 2), order_features(groups, headings, drafts), strict=True
            ):
                self._take(
                    "level", measures, ORDERS.index("same" if one == other else "above" if one < other else "below")
                )

    def _add_edges(self, some: Sequence[PageEvidence], truth: Truth) -> None:
        rng = random.Random(f"{self.name} {len(some)}")
        pages = {n: replace(page, number=n) for n, page in enumerate(some, 1)}
        rows = edge_rows(tuple(pages.values()))
        for row, measures in zip(rows, edge_features(rows, pages), strict=True):
            size = measures[EDGE_FEATURES.index("size")]
            runs = truth.runs(row.text)
            if runs and truth.is_heading(row.text) and size > TITLE_SIZE:
                runs = False  # the title itself, which running heads repeat
            if runs and rng.random() < SMALL_LETTERS:
                measures = tuple(
                    1.0 if name == "starts_lower" else own for name, own in zip(EDGE_FEATURES, measures, strict=True)
                )
            self._take("edge", measures, int(runs and not truth.holds(row.text)))

    def _add(
        self, document: MeasuredDocument, row: int, before: Sequence[Label], label: Label, *, in_cell: bool
    ) -> None:
        """A line, with what those before it are: the parts of the one above, and the last one of its block before that."""
        role = ROLES.index(ROLE_OF_PART[label.role])
        if not in_cell:
            self._take("role", document.roles[row], role)
        if not before:
            return
        how = next((how for one in reversed(before) if (how := joint(one, label)) != "new"), "new")
        self._take("joint", document.joints[row], JOINTS.index(how))
        if how == "new" and not in_cell:
            self.follows["role"][ROLES.index(ROLE_OF_PART[before[-1].role]), role] += 1

    def _take(self, kind: str, measures: Sequence[float], label: int) -> None:
        self.measures[kind].append(measures)
        self.labels[kind].append(label)


def levels_in(case: Path) -> dict[int, int]:
    """The levels of the headings of a document, by the places of their blocks."""
    blocks = json.loads((case / "expected.json").read_text())["blocks"]
    return {n: block.get("level", 1) for n, block in enumerate(blocks) if block["type"] == "heading"}


def replace_lines(draft: Draft, start: int, end: int) -> Draft:
    """A part of a paragraph, as if it were one."""
    breaks = {place - start for place in draft.breaks if start < place < end}
    own = dataclasses.replace(draft, lines=draft.lines[start:end], breaks=breaks)
    return own if not start else dataclasses.replace(own, marker="")


def joint(before: Label, label: Label) -> str:
    """How a line is joined to the one before it."""
    same = before.block == label.block and before.cell == label.cell and before.block >= 0
    if not same or abs(label.start - before.end) > 3:
        return "new"
    return "break" if label.after_break else "same"


def _samples(cases: list[Path], stage: str) -> list[Sample]:
    return [Sample(case, stage) for case in cases]


def samples_of(cases: Sequence[Path], stage: str, workers: int) -> list[Sample]:
    """Samples for the models of a stage (see STAGES); what comes before it uses the models that were fitted last."""
    chunks = [list(cases[start : start + 10]) for start in range(0, len(cases), 10)]
    with ProcessPoolExecutor(workers) as pool:
        return [sample for part in pool.map(_samples, chunks, [stage] * len(chunks)) for sample in part]
