"""The office's own word list: read from text, kept free of contradictions, written again."""

from __future__ import annotations

from evenquill.core.queries.office import ListEntry, office_words, read_list, written_list


def test_a_list_has_words_and_pairs_and_comes_back_as_it_was():
    read = read_list("Skerrin\n\n  Tarow = Tarrow \nOskery\n")
    assert read.entries == (ListEntry("Skerrin"), ListEntry("Tarow", "Tarrow"), ListEntry("Oskery"))
    assert read.problems == ()
    assert read_list(written_list(read.entries)).entries == read.entries
    words = office_words(read.entries)
    assert words.right_for("Tarow") == "Tarrow"
    assert words.right_for("Skerrin") is None
    assert {"Skerrin", "Oskery", "Tarrow"} == words.words


def test_entries_that_contradict_each_other_are_left_out_and_said():
    known = [ListEntry("Tarow", "Tarrow"), ListEntry("Skerrin")]
    read = read_list("Tarow = Taro\nSkerrin = Skerin\nTarow\nTarow = Tarrow\nMorvan = Tarow\nRenn\nRenn = Ren", known)
    assert read.entries == (ListEntry("Renn"),)
    assert read.problems == (
        "Line 1 was left out: “Tarow” stands for “Tarrow” already.",
        "Line 2 was left out: “Skerrin” is right as it is already.",
        "Line 3 was left out: “Tarow” stands for “Tarrow” already.",
        "Line 5 was left out: “Tarow” is itself listed as wrong.",
        "Line 7 was left out: “Renn” is right as it is already.",
    )


def test_what_is_no_word_is_said_and_many_problems_are_cut_short():
    read = read_list("=\nfloat =\n" + "x" * 90)
    assert read.entries == ()
    assert len(read.problems) == 2
    many = read_list("\n".join(f"{n} =" for n in range(50)))
    assert len(many.problems) == 21
    assert many.problems[-1] == "30 more lines were left out."
