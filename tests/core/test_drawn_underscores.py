"""Underscores that are drawn as short rules within words, as TeX sets them."""

from __future__ import annotations

RULE = "#h(0.06em)#box(line(length: 0.3em, stroke: 0.4pt))#h(0.04em)"
"""As TeX sets an underscore in text."""


def test_short_rules_between_letters_are_underscores(typeset, read):
    source = f"Call force{RULE}gauge{RULE}model or *{RULE}{RULE}quay*."
    (page,) = read(typeset(source))
    assert [line.text for line in page.lines] == ["Call force_gauge_model or __quay."]
    assert page.rules == ()


def test_what_is_to_be_filled_in_and_lines_under_letters_are_none(typeset, read):
    blank = "#box(line(length: 2em, stroke: 0.4pt))"
    (page,) = read(typeset(f"Name:{blank}\n\n#underline[I] keep 4#sub[a] {RULE} apart"))
    assert "_" not in " ".join(line.text for line in page.lines)


def test_lines_under_words_that_are_drawn_piece_by_piece_are_none(typeset, read):
    under = "#let under(body, width) = box(width: width, [#place(dy: 7.5pt, line(length: 100%, stroke: 0.5pt))#body])"
    source = f"{under}\n#under([Gauges], 30.1pt)#under([#hide[y]], 2.8pt)#under([quay], 20.1pt)"
    (page,) = read(typeset(source))
    assert [line.text for line in page.lines] == ["Gauges quay"]
