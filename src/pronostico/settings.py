"""Where the application keeps its data and what it serves; from the environment, PRONOSTICO_..."""

from dataclasses import dataclass
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

from pronostico.logs import LogLevel

HOST = "127.0.0.1"
"""The only address that is served unless the network is asked for."""
EVERYWHERE = "0.0.0.0"
"""All addresses of this machine; with them everybody has to sign in."""

DEFAULT_PORT = 8341


def daily_copies_of(database: Path) -> Path:
    """The file beside a database that says where and when full copies are made every day."""
    return database.with_name(f"{database.stem}-daily-copies.json")


def last_copy_of(database: Path) -> Path:
    """The note of when the last full copy was made; beside the database, since no copy can hold its own."""
    return database.with_name(f"{database.stem}-last-copy.json")


def certificates_of(database: Path) -> Path:
    """The folder of the certificates with which a database is served on the network, beside it."""
    return database.with_name(f"{database.stem}-certificates")


def photographs_of(database: Path) -> Path:
    """The folder of a database's photographs, beside it: with the recordings and database all there is."""
    return database.with_name(f"{database.stem}-photographs")


def recordings_of(database: Path) -> Path:
    """The folder of a database's sound recordings, beside it."""
    return database.with_name(f"{database.stem}-recordings")


@dataclass(frozen=True, slots=True)
class Folders:
    """Where the files stand that a database names: photographs, and sound recordings."""

    photographs: Path
    recordings: Path


def folders_of(database: Path) -> Folders:
    """The folders of a database's files, beside it."""
    return Folders(photographs_of(database), recordings_of(database))


class Settings(BaseSettings):
    """Settings of the application.

    `database_url`: of a PostgreSQL database in place of the file `database`, beside which photographs and
    notes on copies stand all the same.
    """

    model_config = SettingsConfigDict(env_prefix="PRONOSTICO_")

    database: Path = Path.home() / ".local" / "share" / "pronostico" / "pronostico.sqlite"
    database_url: str | None = None
    knowledge: Path = Path.home() / ".local" / "share" / "pronostico" / "knowledge"
    log_level: LogLevel = "warning"
    static: Path = Path(__file__).parent / "api" / "static"
