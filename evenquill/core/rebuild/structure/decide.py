"""Every line of a document decided upon: all columns measured, all asked of the models at once, each divided as is most probable."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from evenquill.core.evidence import PageEvidence
from evenquill.core.fitted.trees import array_of, trees_of
from evenquill.core.layout.page import PageLayout
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.rebuild.facts import Facts, facts_of
from evenquill.core.rebuild.structure.features import (
    JOINT_FEATURES,
    ROLE_FEATURES,
    DocumentLook,
    MeasuredColumn,
    features_of,
    look_of_document,
    measured,
)
from evenquill.core.rebuild.structure.roles import ROLES
from evenquill.core.rebuild.structure.segments import Decided, best_division
from evenquill.core.rebuild.structure.surroundings import outline_titles, surroundings_of
from evenquill.core.rebuild.tables import cell_columns
from evenquill.core.source import OutlineEntry

UNMARKED = 3.0
"""Odds (logarithm) against an item that begins without a mark."""

Decisions = Mapping[int, Decided]
"""What was decided, by the id of the line (FlowLine): lines live as long as the layouts that they were decided in."""


class MeasuredDocument:
    """The measures of all lines: ``columns`` with their rows in ``joints`` (lines, JOINT_FEATURES) and ``roles`` (lines, ROLE_FEATURES)."""

    def __init__(
        self,
        layouts: Sequence[PageLayout],
        pages: Sequence[PageEvidence],
        facts: Facts,
        outline: Sequence[OutlineEntry],
    ) -> None:
        of_pages = [_measured_columns(layout) for layout in layouts]
        looks = _looks(of_pages, pages, facts)
        titles = outline_titles([entry.title for entry in outline])
        self.columns: list[MeasuredColumn] = []
        joints: list[tuple[float, ...]] = []
        roles: list[tuple[float, ...]] = []
        for page, own, look in zip(pages, of_pages, looks, strict=True):
            around = surroundings_of(page, titles)
            for n, column in enumerate(own):
                first = not self.columns
                of_joints, of_roles = features_of(column, look, around, first=first, page_first=n == 0)
                joints += of_joints
                roles += of_roles
                self.columns.append(column)
        self.joints = np.array(joints, np.float32).reshape(-1, len(JOINT_FEATURES))
        self.roles = np.array(roles, np.float32).reshape(-1, len(ROLE_FEATURES))


def _looks(
    of_pages: Sequence[Sequence[MeasuredColumn]], pages: Sequence[PageEvidence], facts: Facts
) -> list[DocumentLook]:
    """For each page what is usual on all pages that were made as it was."""
    groups = [facts.kinds[page.number] for page in pages]
    looks = {}
    for group in set(groups):
        members = [n for n, own in enumerate(groups) if own == group or group is None]
        own_facts = facts if len(members) == len(pages) else facts_of([pages[n] for n in members], facts.language)
        looks[group] = look_of_document(
            [column for n in members for column in of_pages[n] if not column.in_cell], own_facts
        )
    return [looks[group] for group in groups]


def _measured_columns(layout: PageLayout) -> list[MeasuredColumn]:
    """The columns of a page, each followed by those of the cells of its tables."""
    out: list[MeasuredColumn] = []
    for column in layout.columns:
        out.append(measured(column))
        for item in column.items:
            if isinstance(item, FlowTable):
                out += [measured(area)._replace(in_cell=True) for area in cell_columns(item) if area.items]
    return out


def decide(
    layouts: Sequence[PageLayout], pages: Sequence[PageEvidence], facts: Facts, outline: Sequence[OutlineEntry]
) -> Decisions:
    """Role and joint of every line of the columns and cells of a document."""
    document = MeasuredDocument(layouts, pages, facts, outline)
    if not len(document.joints):
        return {}
    joints = trees_of("joints").log_probabilities(document.joints)
    roles = trees_of("roles").log_probabilities(document.roles)
    # Nothing tells the model whether a line is the first of its paragraph; an item seldom begins without a mark.
    starts = roles.copy()
    starts[document.roles[:, ROLE_FEATURES.index("mark")] == 0, ROLES.index("item")] -= UNMARKED
    decided: dict[int, Decided] = {}
    start = 0
    for column in document.columns:
        end = start + len(column.lines)
        division = best_division(roles[start:end], joints[start:end], array_of("role_follows"), starts[start:end])
        decided |= zip(map(id, column.lines), division, strict=True)
        start = end
    return decided
