"""Bad files, each with a clear sentence; damaged ones mended where that can be done."""

from __future__ import annotations

import pikepdf
import pytest

from evenquill.core.errors import (
    DamagedSource,
    EmptySource,
    PasswordNeeded,
    SourceError,
    TooLarge,
    UnsupportedSource,
    WrongPassword,
)
from evenquill.core.source import examine, rights_sentence, sniffing


def locked(path, target, **rights):
    with pikepdf.open(path) as opened:
        permissions = pikepdf.Permissions(**rights) if rights else pikepdf.Permissions()
        user = "" if rights else "seaweed"
        opened.save(target, encryption=pikepdf.Encryption(owner="kelp", user=user, allow=permissions))
    return target


def test_a_sound_file_says_what_it_is(typeset):
    facts = examine(typeset('#set document(title: "Gauges")\n= One\n== Two\nText\n#pagebreak()\n= Three'))
    assert (facts.pages, facts.title, facts.language) == (2, "Gauges", "en")
    assert [(entry.level, entry.title, entry.page) for entry in facts.outline] == [
        (1, "One", 1), (2, "Two", 1), (1, "Three", 2),
    ]  # fmt: skip
    assert facts.restrictions == ()


def test_an_empty_file(tmp_path):
    path = tmp_path / "empty.pdf"
    path.touch()
    with pytest.raises(EmptySource, match="no bytes"):
        examine(path)


def test_something_else_than_a_pdf(tmp_path):
    path = tmp_path / "note.pdf"
    path.write_text("Dear Captain, this is no PDF.")
    with pytest.raises(UnsupportedSource, match="not a PDF, a picture"):
        examine(path)


def test_a_pdf_without_pages(tmp_path):
    path = tmp_path / "none.pdf"
    pikepdf.new().save(path)
    with pytest.raises(EmptySource, match="no page"):
        examine(path, repair_into=tmp_path / "mended.pdf")


def test_a_file_that_lost_its_end_is_mended_and_said_so(typeset, tmp_path):
    whole = typeset("= Gauge\n" + "The float hangs in a well. " * 200).read_bytes()
    path = tmp_path / "cut.pdf"
    path.write_bytes(whole[: whole.rindex(b"startxref")].replace(b"/Root", b"/Rood"))
    facts = examine(path, repair_into=tmp_path / "mended.pdf")
    assert facts.pages == 2
    assert facts.read_instead == str(tmp_path / "mended.pdf")
    with pytest.raises(DamagedSource):
        examine(path)


def test_rubbish_behind_a_pdf_header_cannot_be_mended(tmp_path):
    path = tmp_path / "rubbish.pdf"
    path.write_bytes(b"%PDF-1.7\n" + bytes(range(256)) * 40)
    with pytest.raises((DamagedSource, EmptySource)) as caught:
        examine(path, repair_into=tmp_path / "mended.pdf")
    assert str(caught.value).endswith(".")


def test_a_locked_file_asks_for_its_password(typeset, tmp_path):
    path = locked(typeset("Secret heights"), tmp_path / "locked.pdf")
    with pytest.raises(PasswordNeeded, match="locked"):
        examine(path)
    with pytest.raises(WrongPassword, match="does not open"):
        examine(path, password="driftwood")
    assert examine(path, password="seaweed").pages == 1


def test_restrictions_are_told(typeset, tmp_path):
    path = locked(typeset("Text"), tmp_path / "restricted.pdf", extract=False, modify_other=False)
    facts = examine(path)
    assert rights_sentence(facts.restrictions) == (
        "The author of this file does not allow copying text and pictures out of it, or changing it."
    )


def test_a_file_beyond_the_limit_is_refused_before_it_is_opened(typeset, monkeypatch):
    monkeypatch.setattr(sniffing, "MOST_BYTES", 100)
    with pytest.raises(TooLarge, match="Split it"):
        examine(typeset("Text"))


def test_every_error_is_one_of_the_family():
    assert all(
        issubclass(kind, SourceError)
        for kind in (EmptySource, UnsupportedSource, DamagedSource, TooLarge, WrongPassword)
    )
