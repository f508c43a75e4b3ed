"""The whole way, in worker processes, and from the command line."""

from __future__ import annotations

import json
import os
import signal
import time
from pathlib import Path

import docx
import numpy as np
import pikepdf
import pytest
from PIL import Image

from evenquill import cli
from evenquill.core.convert import convert
from evenquill.core.evidence import SMALLEST_SIZE
from evenquill.core.model import RemarkKind
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading import pages as reading
from evenquill.core.reading.jobs import PageJob
from evenquill.core.reading.pages import PagePool
from evenquill.core.source.sniffing import KINDS
from tests.conftest import texts


def crash(job: PageJob) -> bytes:
    if job.page.number == 2:
        os.kill(os.getpid(), signal.SIGSEGV)
    return reading.read_job(job)


def hang(job: PageJob) -> bytes:
    if job.page.number == 2:
        time.sleep(60)
    return reading.read_job(job)


@pytest.fixture
def three_pages(typeset) -> Path:
    return typeset("First page.\n#pagebreak()\nSecond page.\n#pagebreak()\nThird page.")


def test_pages_are_read_in_parallel_and_put_in_order(pool, three_pages, tmp_path):
    told = []
    conversion = convert(
        three_pages, pool, tmp_path / "pictures", progress=lambda done, pages: told.append((done, pages))
    )
    assert texts(conversion.document) == ["First page.", "Second page.", "Third page."]
    assert told == [(1, 3), (2, 3), (3, 3)]
    assert set(conversion.stages) == {"open", "read", "rebuild"}


@pytest.mark.parametrize(("reader", "why"), [(crash, "could not be read"), (hang, "took too long")])
def test_a_page_that_breaks_the_reader_becomes_a_picture_and_the_others_go_on(
    monkeypatch, three_pages, tmp_path, reader, why
):
    monkeypatch.setattr(reading, "read_job", reader)
    with PagePool(1, page_seconds=6.0) as pool:
        conversion = convert(three_pages, pool, tmp_path / "pictures")
    assert texts(conversion.document) == ["First page.", "Third page."]
    (remark,) = conversion.document.remarks
    assert (remark.kind, remark.page) == (RemarkKind.PAGE_AS_PICTURE, 2)
    assert why in remark.sentence


def test_a_page_that_cannot_be_loaded_is_told_of(pool, three_pages, tmp_path):
    broken = tmp_path / "broken.pdf"
    with pikepdf.open(three_pages) as pdf:
        pdf.pages[1].obj.MediaBox = pikepdf.Array([0, 0, 0, 0])
        pdf.pages[1].obj.Contents = pikepdf.Dictionary()
        pdf.save(broken)
    conversion = convert(broken, pool, tmp_path / "pictures")
    assert texts(conversion.document)[0] == "First page."
    assert texts(conversion.document)[-1] == "Third page."


def test_a_page_of_absurd_size_does_no_harm(pool, three_pages, tmp_path):
    huge = tmp_path / "huge.pdf"
    with pikepdf.open(three_pages) as pdf:
        pdf.pages[0].mediabox = [0, 0, 200_000, 200_000]
        pdf.save(huge)
    conversion = convert(huge, pool, tmp_path / "pictures")
    assert "Third page." in texts(conversion.document)


def save_noise(path: Path) -> None:
    values = np.random.default_rng(7).normal(128, 40, (560, 400))
    Image.fromarray(values.clip(0, 255).astype(np.uint8)).save(path)


def test_a_page_of_noise_is_kept_as_a_picture_and_said_so(pool, typeset, tmp_path):
    save_noise(tmp_path / "scan.png")
    path = typeset('#set page(margin: 0mm)\n#image("scan.png", width: 100%, height: 100%)')
    conversion = convert(path, pool, tmp_path / "pictures")
    assert conversion.pages[0].kind == "scanned"
    assert conversion.document.remarks[0].kind is RemarkKind.PAGE_AS_PICTURE


def test_pictures_are_kept_once_and_nothing_outside_the_folder_is_reached(tmp_path):
    folder = PictureFolder(tmp_path / "pictures")
    first = folder.keep(b"ink", "image/png")
    assert folder.keep(b"ink", "image/png") == first
    assert folder.get(first) == b"ink"
    for name in ("../../etc/passwd", "0" * 64, "x"):
        with pytest.raises(KeyError):
            folder.get(name)


def test_the_command_converts_several_files_and_one_bad_one_does_not_stop_the_rest(three_pages, tmp_path, capsys):
    bad = tmp_path / "bad.pdf"
    bad.write_text("no PDF at all")
    report = tmp_path / "report.json"
    code = cli.main(
        ["convert", str(bad), str(three_pages), "-o", str(tmp_path / "out"), "--report", str(report), "--workers", "1"]
    )
    assert code == cli.BAD_SOURCE
    assert capsys.readouterr().err == f"{bad}: This is not {KINDS}, so it cannot be read.\n"
    opened = docx.Document(str(tmp_path / "out" / "page.docx"))
    assert [paragraph.text for paragraph in opened.paragraphs] == ["First page.", "Second page.", "Third page."]
    (entry,) = json.loads(report.read_text())
    assert [page["page"] for page in entry["pages"]] == [1, 2, 3]
    assert set(entry["stages"]) == {"open", "read", "rebuild", "write"}
    assert {query["kind"] for query in entry["queries"]} <= {"other kind", "carries on"}


@pytest.mark.parametrize(
    ("name", "to", "begins"), [("out.pdf", [], b"%PDF"), ("out.dat", [], b"PK"), ("out.pdf", ["--to", "docx"], b"PK")]
)
def test_the_name_of_the_file_says_its_format_where_nothing_else_does(three_pages, tmp_path, name, to, begins):
    out = tmp_path / name
    assert cli.main(["convert", str(three_pages), "-o", str(out), *to, "--workers", "1"]) == cli.DONE
    assert out.read_bytes().startswith(begins)


def test_a_file_at_which_the_program_fails_does_not_stop_the_others(
    three_pages, typeset, tmp_path, capsys, monkeypatch
):
    other = typeset("Another one", name="other")
    rightly = cli.convert

    def convert(sources, *arguments, **more):
        if sources == [other]:
            raise ZeroDivisionError
        return rightly(sources, *arguments, **more)

    monkeypatch.setattr(cli, "convert", convert)
    code = cli.main(["convert", str(other), str(three_pages), "-o", str(tmp_path / "out"), "--workers", "1"])
    assert code == cli.FAILED
    assert capsys.readouterr().err == f"{other}: something went wrong that should not; it is not written.\n"
    assert [path.name for path in (tmp_path / "out").iterdir()] == ["page.docx"]


def test_letters_of_no_size_are_as_tall_as_what_is_divided_by_it_needs(tmp_path, read, rebuilt):
    with pikepdf.Pdf.new() as pdf:
        font = pikepdf.Dictionary(Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica)
        page = pdf.add_blank_page(page_size=(300, 300))
        page.Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F=font))
        lines = b" ".join(b"1 0 0 1 40 %d Tm (1 x = 2 and more) Tj" % y for y in range(100, 200, 12))
        page.Contents = pdf.make_stream(b"BT /F 0.05 Tf %s ET" % lines)
        pdf.save(tmp_path / "small.pdf")
    (evidence,) = read(tmp_path / "small.pdf")
    assert {line.size for line in evidence.lines} == {SMALLEST_SIZE}
    assert rebuilt(tmp_path / "small.pdf").blocks


def test_the_command_unlocks_with_a_password_file(typeset, tmp_path, capsys):
    plain = typeset("Hidden heights")
    locked = tmp_path / "locked.pdf"
    with pikepdf.open(plain) as pdf:
        pdf.save(locked, encryption=pikepdf.Encryption(owner="kelp", user="seaweed"))
    out = tmp_path / "out.docx"
    assert cli.main(["convert", str(locked), "-o", str(out)]) == cli.LOCKED
    assert "password" in capsys.readouterr().err
    (tmp_path / "password").write_text("seaweed\n")
    assert cli.main(["convert", str(locked), "-o", str(out), "--password-file", str(tmp_path / "password")]) == cli.DONE
    assert docx.Document(str(out)).paragraphs[0].text == "Hidden heights"


@pytest.mark.parametrize(
    "wrong",
    [
        ["--to", "wav"],
        ["--option", "gilded"],
        ["--cluster", "tcp://127.0.0.1:1"],
        ["--workers", "-2"],
        ["--password-file", "/nowhere/at/all"],
    ],
)
def test_wrong_use_is_said_in_a_sentence(three_pages, tmp_path, capsys, wrong):
    assert cli.main(["convert", str(three_pages), "-o", str(tmp_path / "x.docx"), *wrong]) == cli.WRONG_USE
    assert capsys.readouterr().err.startswith("evenquill: ")


def test_a_missing_file_is_said_and_not_a_traceback(tmp_path, capsys):
    assert cli.main(["convert", str(tmp_path / "nothing.pdf"), "-o", str(tmp_path / "x.docx")]) == cli.BAD_SOURCE
    assert "No such file" in capsys.readouterr().err


def test_pages_are_read_on_a_cluster_with_their_pictures(typeset, tmp_path):
    from distributed import LocalCluster
    from PIL import Image

    Image.effect_noise((120, 80), 50).save(tmp_path / "hut.png")
    source = typeset('First page.\n#image("hut.png", width: 30mm)\n#pagebreak()\nSecond page.')
    out = tmp_path / "out.docx"
    with LocalCluster(n_workers=1, threads_per_worker=1, dashboard_address=None) as cluster:
        assert cli.main(["convert", str(source), "-o", str(out), "--cluster", cluster.scheduler_address]) == cli.DONE
    opened = docx.Document(str(out))
    assert [p.text for p in opened.paragraphs if p.text] == ["First page.", "Second page."]
    assert len(opened.inline_shapes) == 1


def test_the_report_of_one_file_is_one_object_and_names_the_language(three_pages, tmp_path):
    report = tmp_path / "report.json"
    assert cli.main(["convert", str(three_pages), "-o", str(tmp_path / "x.docx"), "--report", str(report)]) == cli.DONE
    entry = json.loads(report.read_text())
    assert entry["source"] == "page.pdf"
    assert entry["blocks"] == 3
    assert all(page["languages"] == ["eng"] and page["kind"] == "native" for page in entry["pages"])
    assert all(seconds >= 0 for seconds in entry["stages"].values())


def test_the_language_that_is_named_is_taken(three_pages, tmp_path):
    out = tmp_path / "x.docx"
    assert cli.main(["convert", str(three_pages), "-o", str(out), "--language", "deu+eng"]) == cli.DONE
    assert docx.Document(str(out)).core_properties.language == "de"


def test_a_note_on_rights_is_printed_and_the_file_converted(typeset, tmp_path, capsys):
    restricted = tmp_path / "restricted.pdf"
    with pikepdf.open(typeset("Text")) as pdf:
        rights = pikepdf.Permissions(extract=False)
        pdf.save(restricted, encryption=pikepdf.Encryption(owner="kelp", user="", allow=rights))
    assert cli.main(["convert", str(restricted), "-o", str(tmp_path)]) == cli.DONE
    assert "does not allow copying text" in capsys.readouterr().err
    assert (tmp_path / "restricted.docx").exists()


def test_a_damaged_file_is_mended_converted_and_said_so(typeset, tmp_path, capsys):
    whole = typeset("= Gauge\n\nThe float hangs in a well.").read_bytes()
    damaged = tmp_path / "damaged.pdf"
    # The table of contents of the file points nowhere, and its end is gone.
    damaged.write_bytes(whole[: whole.rindex(b"startxref")].replace(b"/Root", b"/Rood"))
    assert cli.main(["convert", str(damaged), "-o", str(tmp_path / "out.docx")]) == cli.DONE
    assert "has been repaired" in capsys.readouterr().err
    assert [p.text for p in docx.Document(str(tmp_path / "out.docx")).paragraphs] == [
        "Gauge",
        "The float hangs in a well.",
    ]
    assert b"/Rood" in damaged.read_bytes(), "the source itself is left as it was"


def test_pages_that_became_pictures_are_told_by_the_exit_code(typeset, tmp_path, capsys):
    save_noise(tmp_path / "scan.png")
    scan = typeset('#set page(margin: 0mm)\n#image("scan.png", width: 100%, height: 100%)\n#pagebreak()\nWords.')
    assert cli.main(["convert", str(scan), "-o", str(tmp_path / "out.docx")]) == cli.PAGES_MISSING
    assert "Nothing on page 1 can be read" in capsys.readouterr().err
    opened = docx.Document(str(tmp_path / "out.docx"))
    assert len(opened.inline_shapes) == 1
    assert "Words." in [p.text for p in opened.paragraphs]


def test_a_target_that_cannot_be_written_is_said(three_pages, tmp_path, capsys):
    (tmp_path / "file").touch()
    assert cli.main(["convert", str(three_pages), "-o", str(tmp_path / "file" / "out.docx")]) == cli.BAD_SOURCE
    assert capsys.readouterr().err.startswith(str(three_pages))


def test_several_sources_need_a_folder(three_pages, tmp_path, capsys):
    (tmp_path / "out.docx").touch()
    code = cli.main(["convert", str(three_pages), str(three_pages), "-o", str(tmp_path / "out.docx")])
    assert code == cli.WRONG_USE
    assert "need a folder" in capsys.readouterr().err


def test_a_docx_file_is_taken_to_another_format(tmp_path, capsys):
    made = docx.Document()
    made.add_heading("Tide gauges", 1)
    made.add_paragraph("The float was found hard against the guide wire.")
    made.save(str(tmp_path / "Edited.docx"))
    report = tmp_path / "report.json"
    code = cli.main(
        ["convert", str(tmp_path / "Edited.docx"), "-o", str(tmp_path), "--to", "markdown", "--report", str(report)]
    )
    assert code == 0
    assert (tmp_path / "Edited.md").read_text().startswith("# Tide gauges\n\nThe float was found")
    assert json.loads(report.read_text())["blocks"] == 2
    (tmp_path / "Broken.docx").write_bytes(b"no such file")
    assert cli.main(["convert", str(tmp_path / "Broken.docx"), "-o", str(tmp_path), "--to", "pdf"]) != 0
    assert "cannot be read" in capsys.readouterr().err
