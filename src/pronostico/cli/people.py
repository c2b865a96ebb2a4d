"""Commands over the people of a workshop."""

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Annotated

import typer

from pronostico.cli.command import app, fail
from pronostico.cli.workshop import DatabaseFile, existing_workshop, opened_workshop
from pronostico.errors import ServiceError

if TYPE_CHECKING:
    from sqlalchemy.orm import Session

    from pronostico.services.people.people import PersonOut, Role

people_app = typer.Typer(
    help="Who works here, where the workshop is served on the network.", no_args_is_help=True
)
app.add_typer(people_app, name="people")
Name = Annotated[str, typer.Argument(help="The name on the list.")]
PasswordOption = Annotated[
    bool,
    typer.Option("--password/--no-password", help="Ask for a password; without one, devices are paired."),
]


@contextmanager
def _writing(database: DatabaseFile) -> Iterator["Session"]:
    opened = opened_workshop(*existing_workshop(database))
    try:
        with opened.writing() as session:
            yield session
    except ServiceError as error:
        fail(str(error))
    finally:
        opened.close()


def _ask_password() -> str:
    return str(typer.prompt("Password", hide_input=True, confirmation_prompt=True))


def _somebody(session: "Session", name: str) -> "PersonOut":
    from pronostico.services.people.people import list_people
    from pronostico.store.people import folded_name

    known = list_people(session)
    for one in known:
        if folded_name(one.name) == folded_name(name):
            return one
    names = ", ".join(one.name for one in known) or "nobody"
    fail(f"there is nobody called '{name}'; on the list: {names}")


def _role(role: str) -> "Role":
    from pronostico.services.people.people import ROLES

    for one in ROLES:
        if one == role:
            return one
    fail(f"'{role}' is no role; expected {', '.join(ROLES)}")


@people_app.command("list")
def list_everybody(database: DatabaseFile = None) -> None:
    """Everybody on the list."""
    from pronostico.services.people.people import list_people

    with _writing(database) as session:
        known = list_people(session)
    if not known:
        typer.echo("Nobody yet; 'pronostico people add NAME --role owner' adds the first.")
    for one in known:
        how = "password" if one.has_password else "paired devices alone"
        typer.echo(f"{one.initials:<4} {one.name}: {one.role}, {how}")


@people_app.command("add")
def add(
    name: Name,
    role: Annotated[str, typer.Option(help="reader, technician or owner.")] = "technician",
    password: PasswordOption = True,
    database: DatabaseFile = None,
) -> None:
    """Add somebody."""
    from pronostico.services.people.people import add_person

    chosen = _role(role)
    with _writing(database) as session:
        added = add_person(
            session,
            name=name,
            role=chosen,
            password=_ask_password() if password else None,
            now=datetime.now(UTC),
        )
    typer.echo(f"{added.name} is on the list as {added.role}")


@people_app.command("reset")
def reset(name: Name, database: DatabaseFile = None) -> None:
    """Give somebody a new password; all their devices are signed out."""
    from pronostico.services.people.people import set_password

    with _writing(database) as session:
        person = _somebody(session, name)
        set_password(session, person.id, _ask_password(), now=datetime.now(UTC))
    typer.echo(f"{person.name} has a new password, and is signed out everywhere")


@people_app.command("remove")
def remove(name: Name, database: DatabaseFile = None) -> None:
    """Take somebody off the list; what they did goes on naming them."""
    from pronostico.services.people.people import remove_person

    with _writing(database) as session:
        person = _somebody(session, name)
        remove_person(session, person.id, now=datetime.now(UTC))
    typer.echo(f"{person.name} is off the list, and signed out everywhere")
