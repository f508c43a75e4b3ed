"""Lines above and below paragraphs and running heads: found on pages, kept by edits, and there in every format that has them."""

from __future__ import annotations

import re

import pytest
from msgspec.structs import replace

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import EditText, JoinBlocks, SetSides, SplitBlock, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Document,
    NoteRef,
    ParagraphStyle,
    Role,
    Running,
    RunningPair,
    RunningPart,
    Section,
    Sides,
    Text,
    TextBlock,
)
from evenquill.core.odt_reading import read_odt
from evenquill.core.rebase.merge_blocks import merged_block
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.registry import WRITERS

BOTH = Sides.TOP | Sides.BOTTOM
PROSE = "The north basin is closed from Monday on, as its gates are being mended; ships that lie there are to leave before that day. "
OTHER = "The south basin stays open at all hours, but for those of the lowest tides, when nobody is to pass the sill of the lock. "
EVERYWHERE = "#set page(background: place(top + left, dx: 18mm, dy: 17mm, line(length: 100mm)))\n"
RULE = "#line(length: 100%, stroke: 0.5pt)\n"


def sides_of(document: Document) -> dict[str, Sides]:
    """By the first words of each paragraph that has a line its sides that have one."""
    return {
        block.readable[:9]: block.sides for block in document.blocks if isinstance(block, TextBlock) and block.sides
    }


def sides_of_running(document: Document) -> tuple[Sides | None, Sides | None]:
    """The sides that have a line of what usually runs at the head and at the foot; None where nothing runs."""
    usual = document.running[0].usual
    return usual.header and usual.header.sides, usual.footer and usual.footer.sides


def test_a_rule_is_the_line_of_what_is_nearest(typeset, rebuilt):
    source = f"= Notice\n{RULE}{PROSE}\n\n{OTHER}\n#v(2em)\n{RULE}#v(-0.5em)\n{PROSE}\n\n{OTHER}"
    assert sides_of(rebuilt(typeset(source))) == {"Notice": Sides.BOTTOM, "The north": Sides.TOP}


def test_rules_of_running_heads_are_theirs_alone(typeset, rebuilt):
    head = "#set page(header: [North Quay Office #h(1fr) Tides #v(-0.6em) #line(length: 100%)], "
    foot = "footer: [#line(length: 100%) #v(-0.6em) #align(center, context counter(page).display())])\n"
    document = rebuilt(typeset(f"{head}{foot}" + f"{PROSE}\n\n{OTHER}\n\n" * 12))
    assert not sides_of(document)
    assert sides_of_running(document) == (Sides.BOTTOM, Sides.TOP)


@pytest.mark.parametrize(
    "source",
    [
        pytest.param(f"{PROSE}#footnote[Said by the master of the port.]", id="above a note"),
        pytest.param(f"{PROSE}\n#table(columns: 3, [Day], [High], [Low], [1], [4.2], [0.9], [2], [4.3], [0.8])", id="of a table"),
        pytest.param(f"{PROSE}\n\n#line(length: 30%)\nMaster of the port", id="to sign on"),
        pytest.param(f"{PROSE}\n\nName #box(line(length: 85%))\n\nPort #box(line(length: 85%))", id="to write on"),
        pytest.param(f"#underline[{PROSE}]\n\n{OTHER}", id="under words"),
        pytest.param(EVERYWHERE + f"{PROSE}\n\n{OTHER}\n\n" * 20, id="on every page"),
    ],
)  # fmt: skip
def test_other_rules_are_no_lines_of_paragraphs(typeset, rebuilt, source):
    assert not sides_of(rebuilt(typeset(source)))


def test_a_rule_over_columns_is_a_line_of_what_stands_over_them(typeset, rebuilt):
    source = f"= Notice\n{RULE}#columns(2)[{PROSE}\n\n{OTHER}#colbreak()\n{PROSE}\n\n{OTHER}]"
    assert sides_of(rebuilt(typeset(source))) == {"Notice": Sides.BOTTOM}


def document() -> Document:
    def text(id: str, said: str, sides: Sides = Sides.NONE, **more: object) -> TextBlock:
        return replace(TextBlock(id, content=(Text(said),), style="Body text", sides=sides, section="s"), **more)

    blocks = (
        text("a", "Above", Sides.TOP),
        text("b", "Below", Sides.BOTTOM),
        text("c", "Below as well", Sides.BOTTOM),
        text("d", "Between", BOTH, role=Role.HEADING, level=1),
        text("e", "Nothing"),
    )
    running = RunningPart(
        "r",
        RunningPair(
            Running((Text("Tides"),), "Body text", sides=Sides.BOTTOM),
            Running((Text("Quay"),), "Body text", sides=Sides.TOP),
        ),
    )
    return Document(
        language="en",
        styles=(ParagraphStyle("Body text", size=11, before=12),),
        blocks=blocks,
        sections=(Section("s", running="r"),),
        running=(running,),
    )


WAYS = {"docx": (write_docx, read_docx), "odt": (write_odt, read_odt)}


@pytest.mark.parametrize("way", WAYS)
def test_lines_come_back_from_word_processors(pictures, way):
    write, read = WAYS[way]
    back = read(write(document(), lambda _: b""), pictures)
    assert [block.sides for block in back.blocks] == [block.sides for block in document().blocks]
    assert sides_of_running(back) == (Sides.BOTTOM, Sides.TOP)


def test_lines_are_drawn_in_pdf(tmp_path, rebuilt):
    path = tmp_path / "written.pdf"
    apart = tuple(
        replace(block, content=(Text(f"{block.text}. {PROSE}"),), role=Role.PARAGRAPH) for block in document().blocks
    )
    path.write_bytes(WRITERS["pdf"].write(replace(document(), blocks=apart), lambda _: b"", ()))
    assert list(sides_of(rebuilt(path)).items()) == [
        ("Above. Th", Sides.TOP), ("Below. Th", Sides.BOTTOM), ("Below as ", Sides.BOTTOM), ("Between. ", BOTH),
    ]  # fmt: skip


def test_lines_are_said_in_rtf_and_html():
    rtf = WRITERS["rtf"].write(document(), lambda _: b"", ()).decode()
    paragraphs = {
        name: line
        for line in rtf.splitlines()
        for name in ("Above", "Between", "Nothing")
        if line.endswith(f"{name}\\par")
    }
    assert [re.findall(r"\\brdr[tb]\b", line) for line in paragraphs.values()] == [
        ["\\brdrt"],
        ["\\brdrt", "\\brdrb"],
        [],
    ]
    html = WRITERS["html"].write(document(), lambda _: b"", ()).decode()
    assert re.search(r"<p [^>]*border-top: 0.5pt solid[^>]*>Above", html)
    assert re.search(r"<h1 [^>]*border-top: 0.5pt solid[^>]*border-bottom: 0.5pt solid[^>]*>Between", html)


def test_a_paragraph_without_text_that_is_a_line_in_a_file(pictures):
    empty = replace(
        document(),
        blocks=tuple(replace(block, content=()) if block.id == "b" else block for block in document().blocks),
    )
    back = read_docx(write_docx(empty, lambda _: b""), pictures)
    assert [(block.text, block.sides) for block in back.blocks][:2] == [
        ("Above", BOTH),
        ("Below as well", Sides.BOTTOM),
    ]


def test_a_line_behind_a_note_is_that_of_the_text_which_calls_it(pictures):
    above, below, *rest = document().blocks
    called = replace(above, content=(Text("Above"), NoteRef("n", "1")), sides=Sides.NONE)
    note = TextBlock("n", Role.NOTE, (Text("Said by the master."),), style="Body text", section="s")
    blocks = (called, note, replace(below, content=()), *rest)
    back = read_docx(write_docx(replace(document(), blocks=blocks), lambda _: b""), pictures)
    assert [(block.role, block.sides) for block in back.blocks][:2] == [
        (Role.PARAGRAPH, Sides.BOTTOM),
        (Role.NOTE, Sides.NONE),
    ]


def test_lines_stay_with_the_ends_of_what_is_parted_and_joined():
    parted = apply(document(), SplitBlock("d", 4)).document
    assert [block.sides for block in parted.blocks[3:5]] == [Sides.TOP, Sides.BOTTOM]
    joined = apply(document(), JoinBlocks("a", "b")).document
    assert joined.blocks[0].sides is BOTH
    typed = apply(document(), EditText("d", (Text("Other"),))).document
    assert typed.blocks[3].sides is BOTH


def test_lines_by_hand():
    made = apply(document(), SetSides("e", BOTH))
    assert made.document.blocks[4].sides is BOTH
    assert undo(made.document, made.inverse) == document()
    with pytest.raises(EditError, match="above and below"):
        apply(document(), SetSides("e", Sides.LEFT))


def test_what_the_clerk_has_drawn_stays_when_the_page_is_read_again():
    base, read = document().blocks[4], replace(document().blocks[4], content=(Text("Nothing!"),))
    mine = replace(base, sides=Sides.TOP)
    assert merged_block(base, mine, read).sides is Sides.TOP
    assert merged_block(base, base, replace(read, sides=Sides.BOTTOM)).sides is Sides.BOTTOM
