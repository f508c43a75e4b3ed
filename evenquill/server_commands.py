"""Commands for the server and its data folder: starting it, accounts, backups, looking for damage, cleaning up, taking everything out."""

from __future__ import annotations

import argparse
import getpass
import sqlite3
import sys
from collections.abc import Sequence
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from evenquill.exit_codes import DAMAGED, DONE, WRONG_USE
from evenquill.store import accounts, cleaning, documents
from evenquill.store.accounts import AccountExists, AccountRole, LastLead, NoAccount
from evenquill.store.backup import BackupUnusable, back_up, faults_of, restore
from evenquill.store.cleaning import Leftover
from evenquill.store.database import DATABASE, connect, transaction
from evenquill.store.export import export
from evenquill.store.files import Files
from evenquill.store.folder_lock import FolderInUse


def add_to(commands: Any) -> None:
    """Adds the commands to a parser's subcommands."""
    for name, text in (("serve", "start the application"), ("demo", "start it with the demo documents")):
        command = _command(commands, name, text, _serve)
        command.set_defaults(demo=name == "demo")
        command.add_argument("--host", default="127.0.0.1", help="others than this machine reach it by another address")
        command.add_argument("--port", type=int, default=8017)
        command.add_argument(
            "--name", action="append", default=[], metavar="NAME", help="a name that the server is asked under"
        )
        command.add_argument("--workers", type=int, default=0, metavar="N", help="processes that read pages")
        command.add_argument("--proxy", metavar="ADDRESS", help="a proxy whose forwarded headers are to be believed")
        command.add_argument("--sign-in", action="store_true", help="have people sign in on this machine too")

    command = _command(commands, "account", "who may sign in", _account)
    command.add_argument("action", choices=("add", "password", "remove", "list"))
    command.add_argument("name", nargs="?", default="", metavar="NAME")
    command.add_argument("--role", choices=[*AccountRole], type=AccountRole, help="lead for the first, else clerk")
    command.add_argument("--password-file", type=Path, help="a file whose first line is the password")

    for name, text, run in (
        ("backup", "write everything that is kept into one file; the server may run meanwhile", _back_up),
        ("restore", "make a data folder of such a file", _restore),
    ):
        command = _command(commands, name, text, run)
        command.add_argument("file", type=Path, metavar="FILE")
    _command(commands, "check", "look for damage in a data folder", _check)
    command = _command(commands, "clean", "say what is deleted and can be taken off the disk", _clean)
    command.add_argument("--now", action="store_true", help="take it off, and deleted documents with it")
    command = _command(commands, "export", "write all documents into a folder in open formats", _export)
    command.add_argument("folder", type=Path, metavar="FOLDER")


def _command(commands: Any, name: str, text: str, run: Any) -> argparse.ArgumentParser:
    command: argparse.ArgumentParser = commands.add_parser(name, help=text)
    command.add_argument("--data", type=Path, default=Path("data"), help="the folder that everything is kept in")
    command.set_defaults(run=run)
    return command


def _serve(options: argparse.Namespace) -> int:
    from evenquill.desk.serve import NobodyCanSignIn, serve  # the other commands do without the server

    try:
        serve(
            options.data,
            host=options.host,
            port=options.port,
            workers=options.workers,
            demo=options.demo,
            names=options.name,
            proxy=options.proxy,
            sign_in=options.sign_in,
        )
    except NobodyCanSignIn:
        print(
            "evenquill: people would have to sign in, and nobody has an account yet. Make the first one:\n"
            f"  evenquill account add NAME --data {options.data}",
            file=sys.stderr,
        )
        return WRONG_USE
    except FolderInUse:
        print(
            f"evenquill: another server works on {options.data}. Stop it first, or name another folder.",
            file=sys.stderr,
        )
        return WRONG_USE
    except (OSError, sqlite3.Error) as error:
        why = error.strerror if isinstance(error, OSError) else error
        print(f"evenquill: the server cannot run on {options.data}: {why}.", file=sys.stderr)
        return WRONG_USE
    return DONE


def _account(options: argparse.Namespace) -> int:
    try:
        with closing(connect(options.data)) as store:
            return _change_account(store, options)
    except AccountExists:
        why = f"there is an account {options.name} already"
    except NoAccount:
        why = f"there is no account {options.name}"
    except LastLead:
        why = "somebody has to be a lead; make another one first"
    except (OSError, sqlite3.Error) as error:
        why = f"{(error.strerror if isinstance(error, OSError) else None) or error}"
    return _refused(why)


def _change_account(store: sqlite3.Connection, options: argparse.Namespace) -> int:
    """Does what is asked for. Raises AccountExists, NoAccount, LastLead, OSError, sqlite3.Error."""
    name = options.name.strip()
    if options.action == "list":
        for person in accounts.every(store):
            print(f"{person.name} ({person.role})")
        return DONE
    if fault := accounts.fault_of_name(name):
        return _refused(fault)
    if options.action == "remove":
        with transaction(store):
            accounts.remove(store, name)
        return DONE
    from evenquill.desk import passwords

    password = _password(options.password_file)
    if fault := passwords.fault_of(password, name):
        return _refused(fault)
    if options.action == "password":
        accounts.set_password(store, name, passwords.hashed(password))
        return DONE
    first = accounts.is_empty(store)
    if first and options.role is AccountRole.CLERK:
        return _refused("the first account is a lead's, who can give accounts to others")
    role = options.role or (AccountRole.LEAD if first else AccountRole.CLERK)
    accounts.add(store, name, role, passwords.hashed(password))
    print(f"{name} ({role}) can sign in.")
    return DONE


def _password(file: Path | None) -> str:
    if file is not None:
        lines = file.read_text(encoding="utf-8").splitlines()
        return lines[0] if lines else ""
    return getpass.getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")


def _back_up(options: argparse.Namespace) -> int:
    try:
        made = back_up(options.data, options.file)
    except (BackupUnusable, OSError, sqlite3.Error) as error:
        return _cannot("back up", error)
    for name in made.missing:
        print(f"evenquill: {name} was not there.", file=sys.stderr)
    print(f"{options.file}: {len(made.files)} files.")
    return DONE if not made.missing else DAMAGED


def _restore(options: argparse.Namespace) -> int:
    try:
        made = restore(options.file, options.data)
    except (BackupUnusable, OSError) as error:
        return _cannot("restore", error)
    print(f"{options.data}: {len(made.files)} files, as they were at {made.made_at}.")
    return DONE


def _check(options: argparse.Namespace) -> int:
    faults = faults_of(options.data)
    for fault in faults:
        print(fault)
    if faults:
        return DAMAGED
    try:
        with closing(connect(options.data)) as store:
            found = list(cleaning.leftovers(store, Files(options.data), datetime.now(UTC) - cleaning.YOUNG))
    except (OSError, sqlite3.Error) as error:
        return _cannot("look for files that belong to nothing", error)
    if found:
        print(f"{_in_words(found)} belong to nothing; “evenquill clean --now” removes them.")
    print(f"{options.data} is as it should be.")
    return DONE


def _in_words(found: Sequence[Leftover]) -> str:
    """How many files, and how large."""
    return f"{len(found)} files ({sum(one.size for one in found) / 1e6:.1f} MB)"


def _clean(options: argparse.Namespace) -> int:
    if not (options.data / DATABASE).is_file():
        return _refused(f"{options.data} is no data folder")
    now = datetime.now(UTC)
    files = Files(options.data)
    try:
        with closing(connect(options.data)) as store:
            waiting = documents.deleted(store)
            if options.now:
                gone = cleaning.forget_deleted(store, now, timedelta(0))
                count, size = cleaning.remove(cleaning.leftovers(store, files, now - cleaning.YOUNG))
                print(f"{len(gone)} documents forgotten, {count} files ({size / 1e6:.1f} MB) removed.")
                return DONE
            found = list(cleaning.leftovers(store, files, now - cleaning.YOUNG))
    except (OSError, sqlite3.Error) as error:
        return _cannot("clean up", error)
    if waiting:
        print(f"{len(waiting)} deleted documents can still be brought back, the oldest until {_until(waiting)}.")
    print(f"{_in_words(found)} belong to nothing; the server removes them within an hour.")
    return DONE


def _until(deleted: Sequence[str]) -> str:
    end = datetime.fromisoformat(min(deleted)) + cleaning.KEPT_AFTER_DELETING
    return end.astimezone().isoformat(sep=" ", timespec="minutes")


def _export(options: argparse.Namespace) -> int:
    if not (options.data / DATABASE).is_file():
        return _refused(f"{options.data} is no data folder")
    if options.folder.exists() and any(options.folder.iterdir()):
        return _refused(f"{options.folder} is not empty; export into a new folder")
    try:
        for name in export(options.data, options.folder):
            print(name)
    except (OSError, sqlite3.Error) as error:
        return _cannot("export", error)
    return DONE


def _cannot(what: str, error: Exception) -> int:
    why = error.strerror if isinstance(error, OSError) and error.strerror else str(error)
    return _refused(f"cannot {what}: {why}")


def _refused(why: str) -> int:
    print(f"evenquill: {why.rstrip('.')}.", file=sys.stderr)
    return WRONG_USE
