"""Kinds of doubt other than uncertain words: numbers, spellings of the source, hyphens, pictures, pages, and what was settled."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import KeepAsItIs, SettleWords, WordAnswer, apply, undo
from evenquill.core.model import (
    HANDWRITING,
    HANDWRITING_STYLE,
    Box,
    Cell,
    Document,
    PageGeometry,
    ParagraphStyle,
    PictureBlock,
    Remark,
    RemarkKind,
    Role,
    Settled,
    Spot,
    TableBlock,
    Text,
    TextBlock,
    WordSpot,
)
from evenquill.core.queries import View, find_queries, kinds, queries_in
from evenquill.core.queries.office import OfficeWords

SOUND = "The float was found hard against the guide wire and the whole trace is lost"


def row(id: str, text: str, sure: float = 1.0, page: int = 1) -> TextBlock:
    """A row whose words are all as sure; native where they are wholly so."""
    words, at = [], 0
    for word in text.replace("\t", " ").split(" "):
        words.append(WordSpot(at, at + len(word), page, Box(6.0 * at, 100, 6.0 * (at + len(word)), 112), sure))
        at += len(word) + 1
    return TextBlock(
        id, content=(Text(text),), style="Body text", words=tuple(words), spots=(Spot(page, Box(0, 100, 300, 112)),)
    )


def document(*blocks, language: str = "en", **more) -> Document:
    page = PageGeometry(595, 842, Box(50, 50, 545, 792))
    return Document("Report", language, (ParagraphStyle("Body text"),), blocks, (page, page, page), **more)


def asked(document: Document, kind: str) -> dict[str, tuple[str, ...]]:
    return {query.text: query.answers for query in find_queries(document) if query.kind == kind}


def table(*cells: str) -> Document:
    return document(*(row(f"b{n}", f"Gauge {n}\t{cell}\tgood") for n, cell in enumerate(cells)))


def test_a_number_that_breaks_the_form_of_its_column_is_asked_about():
    assert asked(table("3.418", "2.906", "2.655", "2651", "3.377", "2.894", "2.647"), "number") == {
        "2651": (
            "2.651",
            *asked(table("3.418", "2.906", "2.655", "2651", "3.377", "2.894", "2.647"), "number")["2651"][1:],
        )
    }
    assert asked(table("3.418", "2.906", "2.655", "2.651", "3.377", "2.894"), "number") == {}
    assert asked(table("3", "12", "140", "7", "9"), "number") == {}


def real_table(rows: list[list[str]], header_rows: int = 0) -> Document:
    cells = (
        Cell(f"t.{r}.{c}.cell", r, c, (replace(row(f"t.{r}.{c}", text), role=Role.CELL),))
        for r, texts in enumerate(rows)
        for c, text in enumerate(texts)
    )
    row_ids = tuple(f"t.row{r}" for r in range(len(rows)))
    return document(row("a", "Above"), TableBlock("t", (60.0,) * len(rows[0]), row_ids, tuple(cells), header_rows))


def test_cells_of_tables_are_looked_at_like_columns_apart_by_tabs():
    numbers = ["3.418", "2.906", "2.655", "2651", "3.377", "2.894", "2.647"]
    found = real_table([["Gauge", "1.5"], *([f"Gauge {n}", text] for n, text in enumerate(numbers))], header_rows=1)
    assert asked(found, "number")["2651"][0] == "2.651"
    (query,) = (one for one in find_queries(found) if one.kind == "number")
    assert (query.block, query.start, query.end) == ("t.4.1", 0, 4)
    rows = [["Knife", "14.20"], ["Wire", "9.90"], ["Float", "31.00"]]
    assert asked(real_table([*rows, ["Total", "55.10"]]), "total") == {}
    assert asked(real_table([*rows, ["Total", "55.70"]]), "total") == {"55.70": ("55.10",)}


def test_queries_in_cells_come_in_the_order_of_the_text():
    broken = real_table([["1O4", "2"], ["3", "4O5"]])
    found = replace(broken, blocks=(*broken.blocks, row("z", "6O7 below")))
    assert [query.text for query in find_queries(found) if query.kind == "number"] == ["1O4", "4O5", "6O7"]
    aside = replace(found.blocks[1], excluded=True)
    put_away = replace(found, blocks=(found.blocks[0], aside, found.blocks[2]))
    assert [query.text for query in find_queries(put_away) if query.kind == "number"] == ["6O7"]


def test_a_total_is_added_up():
    rows = ["Weed knife\t2\t14.20", "Guide wire\t1\t9.90", "Float\t1\t31.00"]
    right = document(*(row(f"b{n}", text) for n, text in enumerate([*rows, "Total\t4\t55.10"])))
    wrong = document(*(row(f"b{n}", text) for n, text in enumerate([*rows, "Total\t4\t55.70"])))
    assert asked(right, "total") == {}
    assert asked(wrong, "total") == {"55.70": ("55.10",)}


@pytest.mark.parametrize(
    ("language", "rows", "total", "wrong", "better"),
    [
        ("en", ["950", "1,234", "2,500"], "4,684", "4,864", "4,684"),
        ("de", ["950,50", "1.234,00", "2.500,00"], "4.684,50", "4.684,55", "4.684,50"),
        ("de", ["950.50", "1'234.00", "2'500.00"], "4'684.50", "4'684.55", "4’684.50"),
    ],
)
def test_thousands_are_parted_as_languages_do(language, rows, total, wrong, better):
    def account(stated: str) -> Document:
        texts = [f"Sum {n}\t{text}" for n, text in enumerate(rows)]
        made = document(*(row(f"b{n}", text) for n, text in enumerate([*texts, f"Total\t{stated}"])))
        return replace(made, language=language)

    assert asked(account(total), "total") == {}
    assert asked(account(wrong), "total") == {wrong: (better,)}


@pytest.mark.parametrize(
    ("text", "wrong"),
    [
        ("The gale of 31 June broke the stairs", "31"),
        ("Am 30 Februar war es still", "30"),
        ("It came on 14.13.1971 at noon", "14.13.1971"),
        ("High water at 25:10 and 12:30", "25:10"),
    ],
)
def test_days_and_times_that_there_are_not_are_asked_about(text, wrong):
    assert set(asked(document(row("b1", text)), "date")) == {wrong}


def test_sound_dates_and_times_are_left_in_peace():
    text = "On 31 January, 29 February and 14.3.1971 at 23:59, page 31 of 30 sheets; 48 may stay"
    assert asked(document(row("b1", text)), "date") == {}


def test_a_misspelling_of_the_source_is_told_and_kept_by_nature():
    doubted = document(row("b1", "The letter was recieved by the harbour office"))
    (query,) = [query for query in find_queries(doubted) if query.kind == "source"]
    assert (query.text, query.answers[0], query.keep) == ("recieved", "received", "keep as in the source")
    assert next(kind for kind in kinds() if kind.name == "source").kept
    unsure = document(row("b1", "The letter was recieved by the harbour office", sure=0.7))
    assert asked(unsure, "source") == {}
    assert "recieved" in asked(unsure, "word")


def broken(text: str, start: int, end: int, first: float, second: float) -> TextBlock:
    """A row whose word from ``start`` to ``end`` stood on two lines, its halves so wide."""
    words = (
        WordSpot(start, end, 1, Box(300 - first, 100, 300, 112)),
        WordSpot(start, end, 1, Box(50, 114, 50 + second, 126)),
    )
    return TextBlock("b1", content=(Text(text),), style="Body text", words=words)


def test_a_hyphen_lost_or_left_in_at_a_lines_end_is_asked_about():
    lost = broken("a trace of twoday length", 11, 17, 30, 30)
    assert asked(document(lost), "hyphen") == {"twoday": ("two-day",)}
    left_in = broken("the instru-ment is sound", 4, 15, 60, 50)
    assert asked(document(left_in), "hyphen") == {"instru-ment": ("instrument",)}
    sound = broken("the instrument is sound", 4, 14, 60, 50)
    assert asked(document(sound), "hyphen") == {}


def picture(id: str, **more) -> PictureBlock:
    return PictureBlock(id, "0" * 64, "image/png", 100, 50, spots=(Spot(2, Box(50, 50, 150, 100)),), **more)


def test_pictures_ask_for_what_they_lack():
    blocks = (
        picture("plain"),
        picture("told", alt="The stairs at low water"),
        picture("stamp", note="stamp", excluded=True),
        picture("back", note="stamp", alt="Stamp"),
        picture("page", note="page"),
        picture("hand", note=HANDWRITING),
        TextBlock(
            "ask", content=(Text("ask porter"),), style=HANDWRITING_STYLE, spots=picture("hand").spots, excluded=True
        ),
    )
    found = {(query.kind, query.block): query for query in find_queries(document(*blocks))}
    assert set(found) == {("picture", "plain"), ("lifted", "stamp"), ("page picture", "page"), ("handwriting", "hand")}
    assert found["handwriting", "hand"].reason == "read as “ask porter”"
    assert [fix.label for fix in found["handwriting", "hand"].fixes] == ["as text", "as picture", "as both"]
    (fix,) = found["lifted", "stamp"].fixes
    brought_back = apply(document(*blocks), fix.operation).document
    assert ("lifted", "stamp") not in {(query.kind, query.block) for query in find_queries(brought_back)}


def test_what_is_said_of_pages_and_files_is_in_the_list_until_it_is_noted():
    remarks = (
        Remark(RemarkKind.TEXT_LAYER, "The text that came with page 2 does not fit.", 2),
        Remark(RemarkKind.RIGHTS, "Its author does not want it copied."),
        Remark(RemarkKind.BLANK, "Page 3 is blank.", 3),
    )
    doubted = document(row("b1", SOUND), remarks=remarks)
    found = find_queries(doubted)
    assert {(query.kind, query.page) for query in found} == {("layer", 2), ("rights", 0)}
    noted = apply(doubted, KeepAsItIs(tuple(query.key for query in found)))
    assert find_queries(noted.document) == []
    assert undo(noted.document, noted.inverse) == doubted


def test_a_page_read_badly_is_one_query_until_its_words_are_wanted():
    bad = row(
        "b1",
        " ".join(f"xq{chr(97 + n)}zv" for n in range(26)) + " " + " ".join(f"wq{chr(97 + n)}k" for n in range(20)),
        0.4,
    )
    doubted = document(bad, row("b2", "One doubtfull word", 0.5, page=2))
    found = find_queries(doubted)
    (page,) = [query for query in found if query.kind == "page"]
    assert page.page == 1
    assert {query.page for query in found if query.kind == "word"} == {2}
    one_by_one = apply(doubted, KeepAsItIs((page.key,))).document
    assert len([query for query in find_queries(one_by_one) if query.page == 1 and query.kind == "word"]) > 30


def test_words_kept_once_are_words_of_the_document():
    rows = [row("b1", "The keeper of Oskerrity went up", 0.8), row("b2", "Nobody at Oskerrity saw it", 0.8)]
    doubted = document(*rows)
    (first, _) = [query for query in find_queries(doubted) if query.text == "Oskerrity"]
    answer = WordAnswer("b1", "Oskerrity", "Oskerrity", first.start, key=first.key)
    edit = apply(doubted, SettleWords((answer,)))
    assert edit.document.settled.words == ("Oskerrity",)
    assert [block.text for block in edit.document.blocks] == [block.text for block in rows]
    before, after = (
        {query.block: query.likelihood for query in find_queries(one) if query.text == "Oskerrity"}
        for one in (doubted, edit.document)
    )
    assert after.get("b2", 0.0) < before["b2"] / 2
    assert "b1" not in after
    assert undo(edit.document, edit.inverse) == doubted


def test_the_offices_list_makes_words_right_or_wrong():
    doubted = document(row("b1", "The Skerrry pilot wrote Tarow twice", 0.75))
    assert {"Skerrry", "Tarow"} <= set(asked(doubted, "word"))
    office = OfficeWords(frozenset({"Skerrry"}), {"Tarow": "Tarrow"})
    found = {query.text: query for query in find_queries(doubted, office)}
    assert found["Tarow"].kind == "listed"
    assert found["Tarow"].answers == ("Tarrow",)
    assert found["Tarow"].likelihood > 0.9
    assert "Skerrry" not in found


def test_pages_are_judged_in_the_languages_they_were_read_in():
    german = row("b1", "Der Pegel wurde wegen des Sturmes abgelesen", 0.95)
    english = document(german)
    both = replace(english, pages=(replace(english.pages[0], languages=("de",)), *english.pages[1:]))
    assert len(find_queries(english)) > len(find_queries(both)) == 0


def test_only_rows_that_are_looked_at_are_asked_about():
    rows = [row("b1", "The well was purnped dry", 0.6), row("b2", "The orifice was cteaned", 0.6)]
    doubted = document(*rows)
    view = View(doubted, OfficeWords(), [rows[1]])
    assert {query.block for query in queries_in(view)} == {"b2"}
    kept = replace(doubted, settled=Settled(tuple(query.key for query in find_queries(doubted))))
    assert find_queries(kept) == []


def test_every_kind_has_its_wording_once():
    names = [kind.name for kind in kinds()]
    assert len(set(names)) == len(names)
    assert all(kind.one and kind.several and "|" not in kind.name for kind in kinds())
    assert [kind.order for kind in kinds()] == sorted(kind.order for kind in kinds())
