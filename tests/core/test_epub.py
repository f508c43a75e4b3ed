"""The EPUB that is written: by the rules of its package, and complete for an independent reader."""

from __future__ import annotations

import io
import posixpath
import re
import zipfile
from pathlib import Path
from xml.etree import ElementTree

import pypandoc
import pytest
from msgspec.structs import replace
from test_formats import AWKWARD, DOCUMENT, SIGNS, picture_bytes, text

from evenquill.core.model import Document, Role
from evenquill.core.writers.html import write_epub

OPF = "{http://www.idpf.org/2007/opf}"
DC = "{http://purl.org/dc/elements/1.1/}"
XHTML = "{http://www.w3.org/1999/xhtml}"


def written(document: Document = DOCUMENT) -> zipfile.ZipFile:
    return zipfile.ZipFile(io.BytesIO(write_epub(document, lambda _: picture_bytes())))


def pages_of(book: zipfile.ZipFile) -> dict[str, ElementTree.Element]:
    """The pages of a book by their names, as XML."""
    names = [name for name in book.namelist() if name.endswith(".xhtml")]
    return {name: ElementTree.fromstring(book.read(name).replace(b"<!DOCTYPE html>", b"")) for name in names}


@pytest.mark.parametrize("document", [DOCUMENT, Document(), replace(DOCUMENT, language="", title="")])
def test_the_package_is_whole(document):
    book = written(document)
    first = book.infolist()[0]
    assert (first.filename, first.compress_type) == ("mimetype", zipfile.ZIP_STORED)
    assert book.read(first) == b"application/epub+zip"
    container = ElementTree.fromstring(book.read("META-INF/container.xml"))
    (root,) = (one.get("full-path") for one in container.iter() if one.get("full-path"))
    package = ElementTree.fromstring(book.read(root))
    identifier = package.find(f".//{DC}identifier")
    assert identifier.get("id") == package.get("unique-identifier")
    assert package.findtext(f".//{DC}title").strip()
    assert package.findtext(f".//{DC}language").strip()
    items = {item.get("id"): item for item in package.iter(f"{OPF}item")}
    listed = {posixpath.join("book", item.get("href")) for item in items.values()}
    assert listed == set(book.namelist()) - {"mimetype", "META-INF/container.xml", root}
    assert [item.get("properties") for item in items.values()].count("nav") == 1
    assert all(reference.get("idref") in items for reference in package.iter(f"{OPF}itemref"))


def test_links_and_pictures_lead_to_what_is_in_the_book():
    book = written()
    pages = pages_of(book)
    names = {name: [one.get("id") for one in page.iter() if one.get("id")] for name, page in pages.items()}
    assert all(len(own) == len(set(own)) for own in names.values())
    for name, page in pages.items():
        for element in page.iter():
            target = element.get("href") or element.get("src")
            if target is None or target.startswith("https:"):
                continue
            file, _, place = target.partition("#")
            whole = posixpath.join("book", file) if file else name
            assert whole in book.namelist()
            assert not place or place in names[whole]


def test_headings_lead_through_the_book():
    blocks = (
        text("a", "One", role=Role.HEADING, level=1),
        text("b", "Within one", role=Role.HEADING, level=2),
        text("c", "Two", role=Role.HEADING, level=1),
    )
    navigation = pages_of(written(replace(DOCUMENT, blocks=blocks)))["book/contents.xhtml"].find(f".//{XHTML}nav")
    outer = navigation.find(f"{XHTML}ol")
    assert [item.findtext(f"{XHTML}a") for item in outer] == ["One", "Two"]
    assert [one.text for one in outer[0].iter(f"{XHTML}a")] == ["One", "Within one"]


def test_an_independent_reader_finds_all_words(tmp_path):
    path = Path(tmp_path / "book.epub")
    path.write_bytes(write_epub(DOCUMENT, lambda _: picture_bytes()))
    plain = pypandoc.convert_file(str(path), "plain", format="epub", extra_args=["--wrap=none"])
    found = re.findall(r"\w+", plain)
    for sentence in (
        SIGNS,
        *AWKWARD,
        "The float was hard against",
        "North pier 2 31",
        "Found by the keeper",
        "lettered",
    ):
        assert not [word for word in re.findall(r"\w+", sentence) if word not in found], sentence
    assert "aside" not in found
