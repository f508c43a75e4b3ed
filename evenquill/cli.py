"""The command line: ``evenquill convert``, and the commands of the server."""

from __future__ import annotations

import argparse
import json
import logging
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from tqdm import tqdm

from evenquill import server_commands
from evenquill.core.convert import Conversion, convert
from evenquill.core.errors import LanguageMissing, PasswordNeeded, SourceError
from evenquill.core.languages import long_code
from evenquill.core.model import RemarkKind
from evenquill.core.part import WrongPages, of_pages, page_ranges, pages_named
from evenquill.core.queries import Query, find_queries
from evenquill.core.reading.cluster import ClusterError, ClusterPages
from evenquill.core.reading.pages import PagePool, PageReader
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.reading_data import check_languages
from evenquill.core.writers.problem import NotWritten
from evenquill.core.writers.registry import WRITERS
from evenquill.exit_codes import BAD_SOURCE, DONE, FAILED, LOCKED, PAGES_MISSING, WRONG_USE

log = logging.getLogger(__name__)


def main(arguments: list[str] | None = None) -> int:
    """Runs a command and returns its exit code."""
    options = _parser().parse_args(arguments)
    return int(options.run(options))


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="evenquill", description="Turns PDFs into editable word-processor files.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    one = commands.add_parser("convert", help="convert files")
    one.add_argument("sources", nargs="+", metavar="SOURCE", type=Path)
    one.add_argument("-o", "--out", required=True, type=Path, help="the file to write, or a folder for several")
    one.add_argument("--to", metavar="FORMAT", help=f"{', '.join(WRITERS)}; as the file to write ends, if not given")
    names = sorted({option.name for writer in WRITERS.values() for option in writer.options})
    one.add_argument("--option", action="append", default=[], metavar="NAME", help=f"of the format: {', '.join(names)}")
    one.add_argument("--pages", default="", metavar="PAGES", help="write only these pages of the source, such as 1-3,7")
    one.add_argument("--language", default="", help="languages of the text, such as eng or deu+fra")
    one.add_argument("--join", action="store_true", help="make one document of all sources, in the order given")
    one.add_argument("--password-file", type=Path, help="a file whose first line is the password")
    one.add_argument("--report", type=Path, help="write measures as JSON to this file")
    one.add_argument("--workers", type=int, default=0, metavar="N", help="processes; one for each core if not given")
    one.add_argument("--cluster", metavar="ADDRESS", help="read the pages on a cluster at this address")
    one.set_defaults(run=_convert)

    server_commands.add_to(commands)
    return parser


def _convert(options: argparse.Namespace) -> int:
    options.to = options.to or _format_of(options.out)
    wrong = _wrong_use(options)
    if wrong:
        print(f"evenquill: {wrong}", file=sys.stderr)
        return WRONG_USE
    password = _password(options.password_file)
    outcome = DONE
    reports = []
    try:
        reader = ClusterPages(options.cluster) if options.cluster else PagePool(options.workers)
    except ClusterError as error:
        print(f"evenquill: {error}", file=sys.stderr)
        return WRONG_USE
    with reader as pages:
        for sources in [options.sources] if options.join else [[source] for source in options.sources]:
            source = sources[0]
            target = _target(options, source)
            try:
                code, report = _convert_one(sources, target, options, pages, password)
                reports.append(report)
            except SourceError as error:
                print(f"{source}: {error}", file=sys.stderr)
                code = LOCKED if isinstance(error, PasswordNeeded) else BAD_SOURCE
            except (NotWritten, WrongPages) as error:
                print(f"{source}: {error}", file=sys.stderr)
                code = BAD_SOURCE
            except OSError as error:
                print(f"{source}: {error.strerror or error}.", file=sys.stderr)
                code = BAD_SOURCE
            except Exception:
                log.exception("converting %s", source)
                print(f"{source}: something went wrong that should not; it is not written.", file=sys.stderr)
                code = FAILED
            outcome = outcome or code
    if options.report:
        whole: Any = reports if len(options.sources) > 1 and not options.join else (reports[0] if reports else {})
        options.report.write_text(json.dumps(whole, ensure_ascii=False, indent=1), encoding="utf-8")
    return outcome


def _format_of(out: Path) -> str:
    """The format that the name of a file ends in; DOCX for what says none."""
    ending = out.suffix.casefold().removeprefix(".")
    return next((name for name, writer in WRITERS.items() if writer.ending == ending), "docx")


def _wrong_use(options: argparse.Namespace) -> str:
    if options.to not in WRITERS:
        return f"{options.to} cannot be written; only {', '.join(WRITERS)}."
    if unknown := WRITERS[options.to].unknown(options.option):
        return f"{options.to} has no option {unknown[0]}."
    if len(options.sources) > 1 and not options.join and options.out.is_file():
        return "several sources need a folder after -o, not a file."
    if options.password_file and not options.password_file.is_file():
        return f"there is no password file {options.password_file}."
    try:
        check_languages(_languages(options.language))
        if options.pages:
            page_ranges(options.pages)
    except (LanguageMissing, WrongPages) as error:
        return str(error)
    if options.workers < 0:
        return "--workers takes a number from 1."
    return ""


def _password(file: Path | None) -> str | None:
    if file is None:
        return None
    lines = file.read_text(encoding="utf-8").splitlines()
    return lines[0] if lines else ""


def _target(options: argparse.Namespace, source: Path) -> Path:
    if (len(options.sources) > 1 and not options.join) or options.out.is_dir():
        return Path(options.out) / f"{source.stem}.{WRITERS[options.to].ending}"
    return Path(options.out)


def _convert_one(
    sources: list[Path], target: Path, options: argparse.Namespace, pages: PageReader, password: str | None
) -> tuple[int, dict[str, Any]]:
    source = sources[0]
    with tempfile.TemporaryDirectory(prefix="evenquill-") as folder:
        with tqdm(desc=source.name, unit="page", disable=not sys.stderr.isatty(), leave=False) as bar:

            def progress(done: int, pages: int) -> None:
                bar.total = pages
                bar.update(done - bar.n)

            conversion = convert(
                sources,
                pages,
                Path(folder),
                password=password,
                preparation=Preparation(languages=_languages(options.language)),
                progress=progress,
            )
        started = time.perf_counter()
        document = conversion.document
        if options.pages:
            document = of_pages(document, pages_named(options.pages, len(document.pages)))
        data = WRITERS[options.to].write(document, conversion.pictures.get, options.option)
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(data)
        written = time.perf_counter() - started
    for remark in conversion.document.remarks:
        print(f"{source}: {remark.sentence}", file=sys.stderr)
    unread = any(remark.kind is RemarkKind.UNREADABLE for remark in conversion.document.remarks)
    code = PAGES_MISSING if unread or conversion.unread_pages else DONE
    return code, _report(source, conversion, written) if options.report else {}


def _languages(names: str) -> tuple[str, ...]:
    """Codes of three letters of the languages named, which may be given in two."""
    return tuple(long_code(name) for name in names.lower().split("+") if name)


def _report(source: Path, conversion: Conversion, written: float) -> dict[str, Any]:
    """As in the command-line contract."""
    language = conversion.document.language
    languages = [long_code(language)] if language else []
    return {
        "source": source.name,
        "pages": [
            {
                "page": page.page,
                "kind": page.kind.value,
                "languages": list(page.languages) or languages,
                "seconds": page.seconds,
            }
            for page in conversion.pages
        ],
        "stages": {**conversion.stages, "write": round(written, 4)},
        "blocks": len(conversion.document.blocks),
        "queries": [_reported(query) for query in find_queries(conversion.document)],
    }


def _reported(query: Query) -> dict[str, Any]:
    first = query.spots[0] if query.spots else None
    return {
        "id": query.id,
        "kind": query.kind,
        "page": query.page or None,
        "box": list(first.box) if first else None,
        "block": query.block,
        "text": query.text,
        "context": query.context,
        "suggestions": list(query.answers),
        "confidence": query.confidence,
        "likelihood": query.likelihood,
    }
