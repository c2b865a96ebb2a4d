"""The command line: `pronostico`, for a record on its own or for the application."""

import signal
import sys
from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pronostico.cli.command import app

__all__ = ["app", "main"]

_MODULES = ("people", "records", "sound", "workshop")
# What scripts call again and again does not wait for what it does not use.
_ALONE = {"sound": "sound"}


def _load(*names: str) -> Any:  # noqa: ANN401
    for name in names:
        import_module(f"pronostico.cli.{name}")
    return import_module("pronostico.cli.command").app


def __getattr__(name: str) -> Any:  # noqa: ANN401
    """The command with all of its subcommands, once somebody asks for it."""
    if name == "app":
        return _load(*_MODULES)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")


def main() -> None:
    """Entry of the command `pronostico`."""
    # A request to end is like Ctrl-C: a temporary demonstration is removed as well.
    # Ctrl-C counts even where the parent process ignored it, as a shell does for background jobs.
    for ending in (signal.SIGTERM, signal.SIGINT):
        signal.signal(ending, signal.default_int_handler)
    alone = _ALONE.get(sys.argv[1]) if len(sys.argv) > 1 else None
    command = _load(*_MODULES) if alone is None else _load(alone)
    command(prog_name="pronostico")
