"""What a database file has to be before it is opened; whatever else it is, it is left as it was found."""

import fcntl
import os
import sqlite3
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

from alembic.script import ScriptDirectory

from pronostico.errors import UnusableDatabase

_HEADER = b"SQLite format 3\x00"
_OURS_ALONE, _FOLDER = 0o600, 0o700
MIGRATIONS = Path(__file__).parent / "migrations"


@contextmanager
def served_by_one(path: Path) -> Iterator[None]:
    """Nobody else serves the same database meanwhile; the system lets go of it however this process ends.

    Raises:
        UnusableDatabase: somebody does, or it cannot be used at all.
    """
    look_at(path)
    try:
        handle = os.open(path.with_name(f"{path.name}.served"), os.O_CREAT | os.O_RDWR, _OURS_ALONE)
    except OSError as error:
        raise UnusableDatabase(path, f"cannot be used: {error.strerror}", "check its folder") from error
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise UnusableDatabase(
                path, "is being served already", "use the window that is open, or end the other server"
            ) from error
        yield
    finally:
        os.close(handle)


@cache
def known_versions() -> frozenset[str]:
    """The versions of the tables that this version of the product knows."""
    return frozenset(one.revision for one in ScriptDirectory(str(MIGRATIONS)).walk_revisions())


def look_at(path: Path) -> None:
    """Look at a database file without changing it; a new one is made, readable by its owner alone.

    Raises:
        UnusableDatabase: it is newer, another program's, cut off, no database at all, or read-only; with
            what to do.
    """
    try:
        if not path.exists():
            _make(path)
        elif path.is_dir():
            raise UnusableDatabase(path, "is a folder", "name a file in it")
        else:
            _check(path)
    except PermissionError as error:
        raise UnusableDatabase(
            path, "may not be read", "give yourself the right to it, or start as its owner"
        ) from error
    except OSError as error:
        raise UnusableDatabase(path, f"cannot be used: {error.strerror}", "check the disk") from error


def make_folder(path: Path) -> None:
    """Make a folder and those above it that are not there, for their owner alone."""
    new = [folder for folder in (path, *path.parents) if not folder.exists()]
    path.mkdir(parents=True, exist_ok=True)
    for folder in new:
        folder.chmod(_FOLDER)


def _make(path: Path) -> None:
    make_folder(path.parent)
    os.close(os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, _OURS_ALONE))


def _check(path: Path) -> None:
    size = path.stat().st_size
    if size == 0:
        return
    with path.open("rb") as file:
        head = file.read(100)
    if not head.startswith(_HEADER):
        raise UnusableDatabase(path, "is no database", "choose the file that ends in .sqlite")
    if size < _size_by(head) and not _log_holds_the_rest(path, head, size):
        raise UnusableDatabase(path, "is cut off: a part of it is missing", "restore it from a backup")
    if not os.access(path, os.W_OK) or not path.stat().st_mode & stat.S_IWUSR:
        raise UnusableDatabase(path, "is read-only", "make it writable, or copy it to where it is")
    _check_tables(path)


def _page_bytes(head: bytes) -> int:
    size = int.from_bytes(head[16:18], "big")
    return 65_536 if size == 1 else size


def _size_by(head: bytes) -> int:
    """The size that the header states, 0 where it is not valid (SQLite file format, section 1.3)."""
    pages, counter, valid_for = (int.from_bytes(head[at : at + 4], "big") for at in (28, 24, 92))
    return _page_bytes(head) * pages if counter == valid_for else 0


def _log_holds_the_rest(path: Path, head: bytes, size: int) -> bool:
    """Whether every page that the file lacks is in its log: a server was ended while it moved them over.

    SQLite file format, section 4: a header of 32 bytes, then frames of 24 bytes and a page each.
    """
    page = _page_bytes(head)
    missing = set(range(size // page + 1, _size_by(head) // page + 1))
    try:
        with path.with_name(f"{path.name}-wal").open("rb") as log:
            salts = log.read(32)[16:24]
            while len(frame := log.read(24)) == 24 and frame[8:16] == salts:
                missing.discard(int.from_bytes(frame[:4], "big"))
                log.seek(page, os.SEEK_CUR)
    except FileNotFoundError:
        return False
    return not missing


def _check_tables(path: Path) -> None:
    try:
        # Only read: closing a connection that may write would move its log into the file. Without a log it
        # is taken as it lies there, for else one would be begun.
        has_log = path.with_name(f"{path.name}-wal").exists()
        how = "mode=ro" if has_log else "immutable=1"
        connection = sqlite3.connect(f"{path.resolve().as_uri()}?{how}", uri=True)
        try:
            names = {name for (name,) in connection.execute("SELECT name FROM sqlite_master")}
            versions = (
                [one for (one,) in connection.execute("SELECT version_num FROM alembic_version")]
                if "alembic_version" in names
                else []
            )
        finally:
            connection.close()
    except sqlite3.DatabaseError as error:
        raise UnusableDatabase(path, f"is damaged: {error}", "restore it from a backup") from error
    if names and not {"alembic_version", "engines"} <= names:
        raise UnusableDatabase(path, "is the database of another program", "choose another file")
    if not set(versions) <= known_versions():
        raise UnusableDatabase(
            path, "was made by a newer version of Pronostico", "install that version, or restore a backup"
        )
