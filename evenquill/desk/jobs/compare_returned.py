"""A word-processor file that was brought back, compared with what was delivered, in a worker process."""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

import msgspec

from evenquill.core.returned import ReturnedChange
from evenquill.store.database import connect, reading


class Compared(msgspec.Struct, frozen=True):
    """What was changed in a file, for the document at a ``revision``; ``remarks`` say what of the file was not taken."""

    revision: int
    remarks: tuple[str, ...]
    changes: tuple[ReturnedChange, ...]


def compare_returned(data: str, document: str, returned: bytes, delivered: str | None, form: str) -> Compared:
    """Compares a file in a format (``docx`` or ``odt``) with the one that was ``delivered`` (its path), or with the document as it is where
    none was. Raises SourceError for what is no such file."""
    from evenquill.core.docx_reading import read_docx
    from evenquill.core.odt_reading import read_odt
    from evenquill.core.pictures import PictureFolder
    from evenquill.core.returned import changes_of
    from evenquill.core.writers.docx import write_docx
    from evenquill.core.writers.odt import write_odt
    from evenquill.store import history, proofs

    pictures = PictureFolder(Path(data) / "pictures")
    with closing(connect(Path(data))) as store, reading(store):
        revision, proof = history.revision(store, document), proofs.read(store, document)
    read, write = (read_odt, write_odt) if form == "odt" else (read_docx, write_docx)
    after = read(returned, pictures)
    file = Path(delivered) if delivered else None
    before = file.read_bytes() if file is not None and file.is_file() else write(proof, pictures.get)
    changes = changes_of(proof, read(before, pictures), after)
    return Compared(revision, tuple(remark.sentence for remark in after.remarks), changes)
