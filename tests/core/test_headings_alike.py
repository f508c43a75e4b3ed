"""Headings that are set alike are one thing: on scans in their looks, everywhere in whether they are headings at all."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Box, Family, Role
from evenquill.core.model.inline import Text
from evenquill.core.rebuild.drafts import Draft
from evenquill.core.rebuild.headings import find_headings
from evenquill.core.rebuild.series import with_counted_labels
from evenquill.core.rebuild.steady_headings import with_steady_headings
from evenquill.core.rebuild.structure.roles import ROLES

TEXT = Type("Serif", Family.SERIF, 10.0)
BOLD = TEXT._replace(bold=True)
ITALIC = TEXT._replace(italic=True)


def draft(
    text: str, look: Type, y: float, *, x: float = 50.0, role: str = "heading", chance: float = 0.9, sure: float = 0.9
) -> Draft:
    """A paragraph of one line, how likely it is a heading, and how surely its words were recognised."""
    words: list[FlowWord] = []
    for n, word in enumerate(text.split(" ")):
        left = words[-1].box.x1 + 3 if n else x
        box = Box(left, y - 8, left + 5 * len(word), y + 2)
        words.append(FlowWord(word, " " if n else "", look, 0, None, box, confidence=sure))
    box = Box(x, y - 8, words[-1].box.x1, y + 2)
    made = Draft([FlowLine(1, box, x, box.x1, y, look.size, tuple(words))], 50.0, 500.0)
    rest = (1 - chance) / (len(ROLES) - 1)
    made.likely_role, made.of_roles = role, tuple(chance if one == "heading" else rest for one in ROLES)
    return made


def looks(drafts: list[Draft]) -> list[Type]:
    return [one.type for one in drafts]


def test_recognised_headings_of_one_size_have_the_weight_and_colour_of_most():
    blue = BOLD._replace(size=14.0, color="404060")
    pale = TEXT._replace(size=14.0, color="406060")
    drafts = [
        draft("State of the gauges", blue, 100),
        draft("Wells", pale, 200),
        draft("The clock on the pier", blue, 300),
    ]
    with_steady_headings(drafts)
    assert looks(drafts) == [blue, blue, blue]


def test_headings_that_differ_in_what_is_measured_well_keep_their_looks():
    large, slanted = BOLD._replace(size=18.0), ITALIC._replace(size=14.0)
    red = BOLD._replace(size=14.0, color="a02020")
    drafts = [
        draft("Gauges", large, 100),
        draft("Wells", slanted, 200),
        draft("Of ice", red, 300),
        draft("Piers", red, 400),
    ]
    with_steady_headings(drafts)
    assert looks(drafts) == [large, slanted, red, red]
    native = [draft("Gauges and wells", BOLD, 100, sure=1.0), draft("Ice", TEXT, 200, sure=1.0)]
    with_steady_headings(native)
    assert looks(native) == [BOLD, TEXT]


@pytest.mark.parametrize(("x", "is_heading"), [(51.4, True), (90.0, False)])
def test_what_is_hardly_a_heading_is_one_where_it_looks_as_others_do_at_their_edge(x, is_heading):
    body = "The float was found hard against the wire again."
    drafts = [
        draft("State of the gauges", BOLD, 100),
        draft(body, TEXT, 120, role="text", chance=0.01),
        draft("Wells", BOLD, 200, x=x, chance=0.3),
        draft(body, TEXT, 220, role="text", chance=0.01),
    ]
    for one in drafts:
        one.content = (Text(one.lines[0].text),)
    find_headings(drafts, 10.0, ())
    assert (drafts[2].role is Role.HEADING) is is_heading


def test_labels_that_count_are_headings_together():
    labels = [draft(f"Article {n}", ITALIC, 100.0 * n, role="lines", chance=0.09) for n in (1, 2, 3)]
    alone = draft("Annex 4", ITALIC, 500, role="lines", chance=0.09)
    plain = [draft(f"Berth {n}", TEXT, 600.0 + 20 * n, role="lines", chance=0.09) for n in (1, 2)]
    unlikely = [draft(f"Room {n}", BOLD, 700.0 + 20 * n, role="lines", chance=0.01) for n in (1, 2)]
    with_counted_labels([*labels, alone, *plain, *unlikely], lambda one: one.type, TEXT)
    assert [one.likely_role for one in labels] == ["heading"] * 3
    assert {one.likely_role for one in (alone, *plain, *unlikely)} == {"lines"}
