"""The command line: `pronostico`, for a record on its own or for the application."""

import signal

from pronostico.cli import people, records, sound, workshop
from pronostico.cli.app import app

__all__ = ["app", "main", "people", "records", "sound", "workshop"]


def main() -> None:
    """Entry of the command `pronostico`."""
    # A request to end is like Ctrl-C: a temporary demonstration is removed as well.
    # Ctrl-C counts even where the parent process ignored it, as a shell does for background jobs.
    for ending in (signal.SIGTERM, signal.SIGINT):
        signal.signal(ending, signal.default_int_handler)
    app(prog_name="pronostico")
