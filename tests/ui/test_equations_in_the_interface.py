"""Equations as a clerk meets them: drawn in their rows, corrected in TeX, put in, made text, undone, delivered."""

from __future__ import annotations

import io
import re
import zipfile
from pathlib import Path

import numpy as np
import scan_effects
from lxml import etree
from playwright.sync_api import expect

from tests.ui.conftest import act, serious_findings
from tests.ui.test_flow_in_the_interface import select
from tests.ui.test_interface import open_desk, row, take_in

PAGE = """#set math.equation(numbering: "(1)")
The height of the water at the hour $t$ is the sum of all its constituents, each of them with a speed of its own:
$ h(t) = Z_0 + sum_(k=1)^N A_k cos n_k t $
The keeper of the gauge works it out for every hour of the day, and writes it into the book of the pier."""
SCANNED = """#set text(font: "New Computer Modern", size: 11pt)
With the area $A$ of the well the time constant of the pipe, as the office has it in its tables, is for every gauge
$ tau = A / a sqrt(L / (2 g)) $
with the length $L$ of the pipe and with $g$ as it is known for the place, and is entered into the book by the keeper."""
MATH = "{http://schemas.openxmlformats.org/officeDocument/2006/math}"


def test_an_equation_is_drawn_corrected_undone_and_delivered(page, application, drop, typeset):
    path = typeset(PAGE, "constituents")
    take_in(page, application, drop, path)
    open_desk(page, path.name)

    # Drawn by the browser, with its number, and said.
    displayed = page.get_by_role("math").nth(1)
    expect(displayed.locator("munderover")).to_have_count(1)
    expect(displayed).to_have_attribute("aria-label", re.compile("h open bracket t .* the sum from k equals 1 to N of"))
    expect(page.locator(".slot", has=page.locator(".number"))).to_contain_text("(1)")
    expect(page.locator(".gutter", has_text="Σ")).to_have_count(1)

    # By keys alone: the row, its equation, a letter corrected; what is wrong is said where it is.
    page.locator(".gutter", has_text="Σ").click()
    page.keyboard.press("f")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_be_focused()
    expect(field).to_have_value(re.compile(r"Z_0\\?.*\\cos"))
    field.fill(r"h(t)=Z_1+\foo")
    expect(page.get_by_role("alert")).to_contain_text(r"\foo is not known. It begins at character 10.")
    page.keyboard.press("Enter")
    expect(field).to_be_focused()  # nothing is kept that cannot be read
    field.fill(r"h(t)=Z_1+\frac{a}{b}")
    expect(page.get_by_role("group", name="Equation in hand")).to_contain_text("Z sub 1 plus a over b")
    assert serious_findings(page) == []
    page.keyboard.press("Enter")
    expect(field).to_have_count(0)
    expect(displayed.locator("mfrac")).to_have_count(1)

    page.keyboard.press("Control+z")
    expect(displayed.locator("munderover")).to_have_count(1)
    page.keyboard.press("Control+y")
    expect(displayed.locator("mfrac")).to_have_count(1)

    page.get_by_role("link", name="Deliver").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver as DOCX").click()
    with zipfile.ZipFile(io.BytesIO(Path(download.value.path()).read_bytes())) as delivered:
        body = etree.fromstring(delivered.read("word/document.xml"))
    assert len(body.findall(f".//{MATH}oMath")) == 2
    (standing,) = body.findall(f".//{MATH}oMathPara")
    assert "".join(standing.itertext()) == "h(t)=Z1+ab".replace("(", "").replace(")", "")
    assert "(1)" in "".join(body.itertext())


def test_an_equation_is_put_in_made_text_and_made_an_equation_again(page, application, drop, typeset):
    path = typeset(PAGE, "hours")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    last = row(page, "The keeper of the gauge")
    last.locator(".text").click(position={"x": 2, "y": 6})
    expect(last.get_by_role("textbox")).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("Control+m")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_be_focused()
    page.keyboard.type("x^2+\\lamb")
    expect(page.get_by_role("option")).to_have_text(["\\lambdaλTab"])
    page.keyboard.press("Tab")
    expect(field).to_have_value(r"x^2+\lambda")
    expect(page.get_by_role("option")).to_have_count(0)
    assert serious_findings(page) == []
    field.fill("x^2")
    page.keyboard.press("Enter")
    expect(last.locator("msup")).to_have_count(1)

    # A click on an equation opens it; its TeX becomes text.
    last.get_by_role("math").click()
    expect(field).to_have_value("x^2")
    page.get_by_role("button", name="Make it text").click()
    expect(last.get_by_role("math")).to_have_count(0)
    expect(last).to_contain_text("x^2")

    # A new row of TeX is made a displayed equation by its key, and a paragraph again.
    select(page, "The keeper of the gauge")
    page.keyboard.press("n")
    expect(page.locator(".typing")).to_be_focused()
    page.keyboard.type("a = b")
    page.keyboard.press("Escape")
    page.keyboard.press("z")
    expect(page.locator(".gutter", has_text="Σ")).to_have_count(2)
    page.keyboard.press("p")
    expect(page.locator(".gutter", has_text="Σ")).to_have_count(1)


def test_an_equation_in_a_cell_is_opened_and_another_row_takes_the_keys(page, application, drop, typeset):
    table = "#table(columns: 2, [Height], [$h = a/b$], [Range], [12.5])"
    path = typeset(
        f"The keeper of the gauge writes both of them down at noon.\n\n{table}\n\nThey are read again at night.",
        "cells",
    )
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.locator("td math").click()
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_have_value(r"h=\frac{a}{b}")
    field.fill("h=2a")
    page.keyboard.press("Enter")
    expect(page.locator("td mfrac")).to_have_count(0)
    expect(page.locator("td math mn")).to_have_text("2")

    page.locator("td math").click()
    expect(field).to_be_focused()
    last = row(page, "They are read again")
    last.locator(".gutter").click()
    expect(field).to_have_count(0)
    page.keyboard.press("h")
    expect(last.locator(".gutter")).to_have_text("H1")


def test_formulas_of_a_scan_are_asked_about_read_from_the_page_again_and_delivered(
    page, application, drop, typeset, tmp_path
):
    chance = np.random.default_rng(7)
    sheet = scan_effects.printed(scan_effects.drawn(typeset(SCANNED, paper="a4"), 1, 300), chance)
    path = tmp_path / "well.pdf"
    path.write_bytes(scan_effects.as_pdf([scan_effects.scanned(sheet, chance, blur=1.0, specks=40)], 300, grey=True))
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    displayed = page.locator(".display math")
    expect(displayed).to_have_count(1)
    expect(displayed.locator("mfrac")).to_have_count(2)
    expect(page.locator("math")).to_have_count(4)

    # Made text by mistake, and read from its place on the page again.
    select(page, "with the length")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("f")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_have_value(r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}")
    page.get_by_role("button", name="Make it text").click()
    expect(displayed).to_have_count(0)
    act(page, "Read", "Read as an equation")
    expect(field).to_have_value(r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}")
    assert serious_findings(page) == []

    # A picture, and an equation once more, by its key.
    page.get_by_role("button", name="Make it a picture").click()
    expect(page.locator(".proof img")).to_have_count(1)
    page.keyboard.press("Shift+F")
    expect(field).to_have_value(r"\tau=\frac{A}{a}\sqrt{\frac{L}{2g}}")

    # A symbol corrected with MathML from elsewhere.
    field.fill("<math><mi>&tau;</mi><mo>=</mo><msqrt><mi>L</mi></msqrt></math>")
    expect(page.get_by_role("group", name="Equation in hand")).to_contain_text("τ equals the square root of L")
    page.keyboard.press("Enter")
    expect(displayed.locator("msqrt")).to_have_count(1)
    expect(displayed.locator("mfrac")).to_have_count(0)

    page.get_by_role("link", name="Deliver").click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Deliver as DOCX").click()
    with zipfile.ZipFile(io.BytesIO(Path(download.value.path()).read_bytes())) as delivered:
        body = etree.fromstring(delivered.read("word/document.xml"))
    assert ["".join(one.itertext()) for one in body.findall(f".//{MATH}oMath")] == ["A", "τ=L", "L", "g"]


def test_a_rectangle_drawn_on_the_sheet_becomes_an_equation(page, application, drop, typeset):
    path = typeset(PAGE, "clipped")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.keyboard.press("e")
    regions = page.locator(".region .body")
    expect(regions).to_have_count(3)
    page.wait_for_timeout(500)  # the sheet slides in
    equation = page.locator(".region").nth(1).bounding_box()

    # Around the equation once more: a row of its own, which can be undone.
    page.keyboard.press("d")
    page.mouse.move(equation["x"] - 3, equation["y"] - 2)
    page.mouse.down()
    page.mouse.move(equation["x"] + equation["width"] + 3, equation["y"] + equation["height"] + 2, steps=4)
    page.mouse.up()
    dialog = page.get_by_role("dialog", name="A new region")
    page.wait_for_timeout(400)  # while it fades in, its contrast is not yet its own
    assert serious_findings(page) == []
    dialog.get_by_role("button", name="Take it as an equation").click()
    expect(regions).to_have_count(4)
    page.keyboard.press("e")
    expect(page.locator(".display math")).to_have_count(2)
    expect(page.locator(".display munderover")).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(page.locator(".display math")).to_have_count(1)
    page.keyboard.press("e")
    expect(regions).to_have_count(3)
    page.wait_for_timeout(500)

    # Around white paper nothing becomes of it.
    page.keyboard.press("d")
    last = page.locator(".region").last.bounding_box()
    page.mouse.move(last["x"] + 10, last["y"] + last["height"] + 60)
    page.mouse.down()
    page.mouse.move(last["x"] + 150, last["y"] + last["height"] + 110, steps=4)
    page.mouse.up()
    dialog.get_by_role("button", name="Take it as an equation").click()
    expect(page.get_by_text("No equation can be read there.")).to_be_visible()
    expect(regions).to_have_count(3)


LETTERS = """#set math.equation(numbering: "(1)")
Every pier has _ng_ gauges, and _ng_ keepers read them, though not one of them is called ng. Their office counts them as
$ N = (a + b) / 2 sqrt(c) $
and takes _ng_ from the book of the year before, as it takes the $h$ of each gauge that stands at the sea."""


def chosen(field) -> str:
    """What is marked in a field."""
    return field.evaluate("field => field.value.slice(field.selectionStart, field.selectionEnd)")


def test_equations_are_listed_walked_through_and_opened(page, application, drop, typeset):
    path = typeset(LETTERS, "letters")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.keyboard.press("Shift+U")
    panel = page.get_by_role("complementary", name="Equations")
    expect(panel).to_contain_text("1 displayed, 1 within lines.")
    entries = panel.locator("li")
    expect(entries).to_have_count(1)
    expect(entries.locator("msqrt")).to_have_count(1)
    expect(entries).to_contain_text("(1)")
    assert serious_findings(page) == []

    # Those within lines, too; by keys to the next, and into it.
    panel.get_by_role("checkbox").check()
    expect(entries).to_have_count(2)
    entries.first.get_by_role("button").focus()
    page.keyboard.press("ArrowDown")
    expect(entries.nth(1).get_by_role("button")).to_be_focused()
    page.keyboard.press("Enter")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_have_value("h")
    expect(field).to_be_focused()
    field.fill("h_1")
    page.keyboard.press("Enter")
    expect(entries.nth(1).locator("msub")).to_have_count(1)

    page.get_by_role("button", name="Outline", exact=True).last.click()
    expect(page.get_by_role("complementary", name="Outline")).to_contain_text("no headings yet")


def test_a_part_is_pointed_at_read_from_the_strip_and_copied(page, application, drop, typeset):
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    path = typeset(LETTERS, "parts")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    page.locator(".gutter", has_text="Σ").click()
    page.keyboard.press("f")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_have_value(r"N=\frac{a+b}{2}\sqrt{c}")
    view = page.locator(".equation-editor .view")
    expect(view.locator("[data-typed]")).not_to_have_count(0)

    # A click marks the part, another what is around it; keys do the same.
    view.locator("mi", has_text="c").click()
    assert chosen(field) == "c"
    view.locator("mi", has_text="c").click()
    assert chosen(field) == r"\sqrt{c}"
    expect(view.locator(".marked-part")).to_have_count(1)
    page.keyboard.press("Alt+ArrowUp")
    assert chosen(field) == r"N=\frac{a+b}{2}\sqrt{c}"
    view.locator("mi", has_text="c").click()
    page.keyboard.press("Alt+ArrowUp")
    page.keyboard.press("Alt+ArrowDown")
    assert chosen(field) == "c"
    page.keyboard.type("d")
    expect(field).to_have_value(r"N=\frac{a+b}{2}\sqrt{d}")

    # What is drawn around on the strip comes to where the caret is.
    field.fill("")
    strip = page.locator(".row", has=field).locator(".strip")
    box = strip.bounding_box()
    page.mouse.move(box["x"] + 1, box["y"] + 1)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 1, box["y"] + box["height"] - 1, steps=4)
    expect(strip.locator(".drawn")).to_be_visible()
    page.mouse.up()
    expect(field).to_have_value(re.compile(r"N=\\frac\{a\+b\}\{2\}\\sqrt\{c\}"))
    expect(field).to_be_focused()

    page.get_by_role("group", name="Copy as").get_by_role("button", name="Picture").click()
    expect(page.get_by_text("The equation is copied as a picture.")).to_be_visible()
    kinds = page.evaluate("navigator.clipboard.read().then((items) => items.flatMap((item) => item.types))")
    assert kinds == ["image/png"]


def test_every_letter_of_a_look_becomes_an_equation(page, application, drop, typeset):
    path = typeset(LETTERS, "every")
    take_in(page, application, drop, path)
    open_desk(page, path.name)
    first, last = row(page, "Every pier"), row(page, "and takes")
    first.locator(".text").click(position={"x": 2, "y": 6})
    expect(first.get_by_role("textbox")).to_be_focused()
    page.keyboard.press("Home")
    for _ in "Every pier has ":
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Control+m")
    field = page.get_by_role("combobox", name="TeX")
    expect(field).to_have_value("ng")
    field.fill("n_g")
    group = page.get_by_role("group", name="Every ng that stands alone")
    group.get_by_role("button", name="in the document").click()
    expect(page.get_by_text("Every “ng” that stands alone is an equation now.")).to_be_visible()
    expect(first.get_by_role("math")).to_have_count(2)
    expect(last.get_by_role("math")).to_have_count(2)
    expect(first).to_contain_text("is called ng.")
    page.keyboard.press("Control+z")
    expect(first.get_by_role("math")).to_have_count(0)
    expect(last.get_by_role("math")).to_have_count(1)
