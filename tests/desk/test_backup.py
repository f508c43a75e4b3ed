"""Backups made while documents are worked on, restored, and checked."""

from __future__ import annotations

import shutil
import sqlite3
import zipfile
from pathlib import Path

import pytest
from PIL import Image

from evenquill import cli
from evenquill.store import documents, proofs
from evenquill.store.backup import BackupUnusable, back_up, faults_of, restore
from evenquill.store.database import DATABASE, connect


@pytest.fixture
def worked_on(client, context, taken, typeset, tmp_path) -> str:
    """A document with a picture, an edit and a delivery; the server goes on."""
    Image.effect_noise((200, 100), 40).save(tmp_path / "hut.png")
    document = taken(typeset('The float was found.\n\n#image("hut.png", width: 60mm)'))
    rows = client.get(f"/api/documents/{document}/rows?count=9").json
    content = [{"type": "text", "text": "The raft was found."}]
    edit = {"op": "edit_text", "block": rows["blocks"][0]["id"], "content": content}
    body = {"revision": rows["revision"], "operation": edit}
    assert client.post(f"/api/documents/{document}/operations", json=body).status_code == 200
    assert client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).status_code == 200
    return document


def file_of(folder: Path, part: str) -> Path:
    return next(path for path in (folder / part).rglob("*") if path.is_file())


def test_a_backup_has_everything_and_is_restored_as_it_was(worked_on, context, tmp_path, capsys):
    file, other = tmp_path / "out" / "even.zip", tmp_path / "restored"
    file.parent.mkdir()
    assert cli.main(["backup", str(file), "--data", str(context.data)]) == cli.DONE
    assert list(file.parent.iterdir()) == [file]
    assert cli.main(["restore", str(file), "--data", str(other)]) == cli.DONE
    assert cli.main(["check", "--data", str(other)]) == cli.DONE
    assert "is as it should be" in capsys.readouterr().out
    store = connect(other)
    assert proofs.read(store, worked_on) == proofs.read(context.store, worked_on)
    assert documents.every(store) == documents.every(context.store)
    for part in ("sources", "pictures", "delivered"):
        assert file_of(other, part).read_bytes() == file_of(context.data, part).read_bytes()
    assert {path.name for path in tmp_path.iterdir() if path.name.startswith("restored")} == {"restored"}


def test_a_backup_goes_into_an_empty_folder_only_and_only_whole(worked_on, context, tmp_path, capsys):
    file = tmp_path / "even.zip"
    back_up(context.data, file)
    assert cli.main(["restore", str(file), "--data", str(context.data)]) == cli.WRONG_USE
    assert "is not empty" in capsys.readouterr().err
    name = next(one for one in zipfile.ZipFile(file).namelist() if one.startswith("sources/"))
    spoilt = tmp_path / "spoilt.zip"
    with zipfile.ZipFile(file) as old, zipfile.ZipFile(spoilt, "w") as new:
        for one in old.namelist():
            new.writestr(one, b"other bytes" if one == name else old.read(one))
    with pytest.raises(BackupUnusable, match="is not what it was"):
        restore(spoilt, tmp_path / "spoilt")
    assert not (tmp_path / "spoilt").exists()


def test_bytes_that_were_changed_within_a_backup_are_found(worked_on, context, tmp_path):
    file = tmp_path / "even.zip"
    back_up(context.data, file)
    whole = file.read_bytes()
    for at in range(200, len(whole), len(whole) // 12):
        file.write_bytes(whole[:at] + bytes(255 - one for one in whole[at : at + 40]) + whole[at + 40 :])
        with pytest.raises(BackupUnusable):
            restore(file, tmp_path / "restored")
        assert not (tmp_path / "restored").exists()


@pytest.mark.parametrize("name", ["../out", "/tmp/out", "a/../../out", "a\\..\\out"])
def test_nothing_is_unpacked_outside_of_its_folder(name, tmp_path):
    evil = tmp_path / "evil.zip"
    with zipfile.ZipFile(evil, "w") as made:
        made.writestr(name, b"x")
        made.writestr("manifest.json", f'{{"made_at":"","files":{{"{name}":"0"}}}}'.replace("\\", "\\\\"))
    with pytest.raises(BackupUnusable):
        restore(evil, tmp_path / "in" / "data")
    assert list(tmp_path.rglob("out")) == []


@pytest.mark.parametrize("content", [b"", b"no archive", None])
def test_what_is_no_backup_is_said_to_be_none(content, tmp_path, capsys):
    file = tmp_path / "x.zip"
    if content is not None:
        file.write_bytes(content)
    assert cli.main(["restore", str(file), "--data", str(tmp_path / "data")]) == cli.WRONG_USE
    assert capsys.readouterr().err.startswith("evenquill: cannot restore:")
    assert not (tmp_path / "data").exists()
    assert cli.main(["backup", str(tmp_path / "y.zip"), "--data", str(tmp_path / "nowhere")]) == cli.WRONG_USE


def test_damage_is_found(worked_on, context, tmp_path):
    folder = tmp_path / "copy"
    restored = tmp_path / "even.zip"
    back_up(context.data, restored)
    restore(restored, folder)
    assert faults_of(folder) == []
    source, picture = file_of(folder, "sources"), file_of(folder, "pictures")
    source.write_bytes(b"other")
    picture.unlink()
    shutil.rmtree(folder / "delivered")
    said = " ".join(faults_of(folder))
    assert f"{source.name} is not what it was." in said
    assert f"The picture {picture.name} of a document is missing." in said
    assert ".docx is missing." in said
    with sqlite3.connect(folder / DATABASE) as store:
        store.execute("PRAGMA foreign_keys = OFF")
        store.execute("DELETE FROM documents")
    assert any("refers to nothing" in fault for fault in faults_of(folder))
    (folder / DATABASE).write_bytes(b"no database" * 500)
    assert "The database is damaged" in faults_of(folder)[0]
