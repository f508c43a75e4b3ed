"""Routes for signing in and out, and for the accounts of the people who work here."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import msgspec
from flask import Response

from evenquill.desk import passwords
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.sign_in import SignIn, current_session, require_lead, with_cookie
from evenquill.store import accounts
from evenquill.store.accounts import AccountExists, AccountRole, LastLead, NoAccount, Person, Session
from evenquill.store.database import transaction


class SessionState(msgspec.Struct, frozen=True):
    """Whether one has to sign in here, who is signed in, and the ``token`` that requests must bear which change something (header
    ``X-Evenquill-Token``; empty for those who are not signed in)."""

    sign_in: bool
    token: str
    person: Person | None = None


class Entering(msgspec.Struct, frozen=True):
    """A name and its password."""

    name: str
    password: str


class PasswordChange(msgspec.Struct, frozen=True):
    """The password so far, and the one from now on."""

    old: str
    new: str


class NewPerson(msgspec.Struct, frozen=True):
    """Somebody who is to have an account, and the first password."""

    name: str
    password: str
    role: AccountRole = AccountRole.CLERK


class PersonChange(msgspec.Struct, frozen=True):
    """Another role, another password; what is not named stays."""

    role: AccountRole | None = None
    password: str | None = None


def add_routes(api: Api, context: AppContext, sign_in: SignIn) -> None:
    def state(session: Session | None) -> SessionState:
        token = session.token if session else sign_in.token
        return SessionState(sign_in.required, token, session.person if session else None)

    @api.route("GET", "/api/session", returns=SessionState)
    def session() -> SessionState:
        """Who is signed in, and the token for changes."""
        return state(current_session())

    @api.route("POST", "/api/session", body=Entering, returns=SessionState)
    def enter(body: Entering) -> Response:
        """Signs in. After several wrong passwords nobody is let in under that name, or from there, for a quarter of an hour."""
        if not sign_in.required:
            raise ApiError(409, "open", "Nobody has to sign in here.")
        kept, made = sign_in.enter(body.name.strip(), body.password)
        return with_cookie(Response(msgspec.json.encode(state(made)), mimetype="application/json"), kept)

    @api.route("DELETE", "/api/session")
    def leave() -> Response:
        """Signs out."""
        if (ended := current_session()) is not None:
            accounts.end_session(context.store, ended)
        # Strips that the browser has kept are not for whoever comes next.
        return with_cookie(Response(status=204, headers={"Clear-Site-Data": '"cache"'}), "")

    @api.route("PUT", "/api/session/password", body=PasswordChange)
    def change_password(body: PasswordChange) -> None:
        """Changes one's own password. Other windows and machines are signed out."""
        own = current_session()
        if own is None:
            raise Missing
        sign_in.check_password(own.person.name, body.old)
        _check_password(body.new, own.person.name)
        accounts.set_password(context.store, own.person.name, passwords.hashed(body.new), keep=own.id)

    @api.route("GET", "/api/people", returns=list[Person])
    def people() -> list[Person]:
        """Everybody who has an account; for leads."""
        require_lead()
        return accounts.every(context.store)

    @api.route("POST", "/api/people", body=NewPerson, returns=list[Person])
    def add_person(body: NewPerson) -> list[Person]:
        """Gives somebody an account; for leads."""
        require_lead()
        name = body.name.strip()
        if fault := accounts.fault_of_name(name):
            raise ApiError(422, "name", fault)
        _check_password(body.password, name)
        try:
            accounts.add(context.store, name, body.role, passwords.hashed(body.password))
        except AccountExists:
            raise ApiError(409, "name", f"There is an account of the name “{name}” already.") from None
        return accounts.every(context.store)

    @api.route("PATCH", "/api/people/{name}", body=PersonChange, returns=list[Person])
    def change_person(name: str, body: PersonChange) -> list[Person]:
        """Gives somebody another role or another password, which signs them out; for leads."""
        require_lead()
        if body.password is not None:
            _check_password(body.password, name)
        own = current_session()
        keep = own.id if own and own.person.name == name else ""
        hashed = passwords.hashed(body.password) if body.password is not None else None
        with _account_changes(), transaction(context.store):
            if body.role is not None:
                accounts.set_role(context.store, name, body.role)
            if hashed is not None:
                accounts.set_password(context.store, name, hashed, keep=keep)
        return accounts.every(context.store)

    @api.route("DELETE", "/api/people/{name}", returns=list[Person])
    def remove_person(name: str) -> list[Person]:
        """Takes an account away; what was done in it stays in the history. For leads."""
        require_lead()
        with _account_changes(), transaction(context.store):
            accounts.remove(context.store, name)
        return accounts.every(context.store)


@contextmanager
def _account_changes() -> Iterator[None]:
    """Says what cannot be done with accounts."""
    try:
        yield
    except NoAccount:
        raise Missing from None
    except LastLead:
        raise ApiError(409, "lead", "Somebody has to be a lead. Make another one first.") from None


def _check_password(password: str, name: str) -> None:
    if fault := passwords.fault_of(password, name):
        raise ApiError(422, "password", fault)
