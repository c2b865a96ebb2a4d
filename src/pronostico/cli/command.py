"""The command `pronostico` itself, and how each of its subcommands fails."""

from datetime import date, datetime
from typing import Annotated, NoReturn

import typer

app = typer.Typer(
    help="Pronostico: valve clearances recorded, assessed and predicted.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)


def _say_version(wanted: bool) -> None:
    if wanted:
        from pronostico import __version__

        typer.echo(__version__)
        raise typer.Exit


@app.callback()
def _common(
    version: Annotated[
        bool,
        typer.Option("--version", help="Say which version this is.", callback=_say_version, is_eager=True),
    ] = False,
) -> None:
    pass


def fail(message: str) -> NoReturn:
    """End with a sentence on standard error and exit status 1."""
    typer.echo(message, err=True)
    raise typer.Exit(1)


def today() -> date:
    """The day where the command runs."""
    return datetime.now().astimezone().date()
