"""Full copies of a workshop: the database of one moment while people write, and the files beside it by hash.

A folder holds many copies, and each photograph and recording once. Every copy is checked after it was made,
old ones go by a rule, and restoring one keeps what it replaces.
"""

import hashlib
import shutil
import sqlite3
from collections.abc import Callable, Sequence
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from pydantic import BaseModel, ConfigDict

from pronostico.errors import Refused, UnusableDatabase
from pronostico.record.faults import Fault
from pronostico.services.staging import write_through
from pronostico.settings import folders_of, last_copy_of
from pronostico.store.database import Database
from pronostico.store.moving import copy_workshop
from pronostico.store.opening import look_at

_DATABASE, _MANIFEST = "pronostico.sqlite", "manifest.json"
_PICTURES, _RECORDINGS = "photographs", "recordings"
_NAME = "%Y%m%dT%H%M%SZ"
_HALF = ".part"
_PAGES_AT_ONCE = 2_000
# The newest copy of each of so many days, weeks and months is kept.
_DAYS, _WEEKS, _MONTHS = 7, 4, 12
# What is counted in a copy: of what technicians entered.
_COUNTED = ("engines", "visits", "readings", "tries", "settings", "cases", "case_notebook")


class CopyManifest(BaseModel):
    """What a copy holds: the database's hash, how many rows, and each file beside it by its hash.

    `recordings`: of sound; a copy of before there were any has none.
    """

    model_config = ConfigDict(extra="forbid")

    made_at: datetime
    database_sha256: str
    rows: dict[str, int]
    photographs: dict[str, str]
    recordings: dict[str, str] = {}


class LastCopy(BaseModel):
    """When the last good copy was made, and where it is."""

    made_at: datetime
    folder: str


def _sha256(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _refused(message: str) -> Refused:
    return Refused([Fault("$", message)])


def _copy_database(source: Path, target: Path) -> None:
    """The database as one moment has it, whoever writes meanwhile (SQLite's online backup)."""
    reading, writing = sqlite3.connect(source, timeout=30.0), sqlite3.connect(target)
    try:
        reading.backup(writing, pages=_PAGES_AT_ONCE, sleep=0.01)
        # One file, without a log beside it.
        writing.execute("PRAGMA journal_mode = DELETE")
    finally:
        reading.close()
        writing.close()
    target.chmod(0o600)


def _rows(database: Path) -> dict[str, int]:
    """The rows of a database that is whole.

    Raises:
        Refused: it is not.
    """
    connection = sqlite3.connect(f"{database.resolve().as_uri()}?immutable=1", uri=True)
    try:
        told = [one for (one,) in connection.execute("PRAGMA integrity_check")]
        if told != ["ok"]:
            raise _refused(f"{database} is damaged: {told[0]}")
        dangling = connection.execute("PRAGMA foreign_key_check").fetchone()
        if dangling is not None:
            raise _refused(f"{database} has a row of {dangling[0]} that belongs to nothing")
        tables = {name for (name,) in connection.execute("SELECT name FROM sqlite_master")}
        return {
            name: int(connection.execute(f"SELECT count(*) FROM {name}").fetchone()[0])
            for name in _COUNTED
            if name in tables
        }
    except sqlite3.DatabaseError as error:
        raise _refused(f"{database} is damaged: {error}") from error
    finally:
        connection.close()


def _copy_files(source: Path, shelf: Path) -> dict[str, str]:
    """Each file of a folder on the shelf under its hash, once; their names and hashes."""
    found: dict[str, str] = {}
    if not source.is_dir():
        return found
    shelf.mkdir(parents=True, exist_ok=True)
    for path in sorted(one for one in source.iterdir() if one.is_file() and one.suffix != _HALF):
        content = path.read_bytes()
        digest = hashlib.sha256(content).hexdigest()
        kept = shelf / digest
        if not kept.is_file():
            half = shelf / f"{digest}{_HALF}"
            write_through(half, content)
            half.replace(kept)
        found[path.name] = digest
    return found


def _copy_from_server(path: Path, address: str, target: Path) -> None:
    """The same from a server: the copy is a file like every other, so that it can be used without one."""
    with closing(Database(path, address)) as source, closing(Database(target)) as copy:
        copy_workshop(source, copy)
    with closing(sqlite3.connect(target)) as connection:
        connection.execute("PRAGMA journal_mode = DELETE")


def make_copy(database: Path, folder: Path, *, now: datetime, address: str | None = None) -> Path:
    """A full copy in a folder, checked; copies that the rule does not keep are removed.

    Args:
        address: of the PostgreSQL database, where the workshop is in one.

    Raises:
        Refused: the copy is not whole, or the folder cannot be written to.
    """
    made_at = now.astimezone(UTC)
    copy = folder / made_at.strftime(_NAME)
    half = folder / f"{copy.name}{_HALF}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        shutil.rmtree(half, ignore_errors=True)
        half.mkdir()
        if address is None:
            _copy_database(database, half / _DATABASE)
        else:
            _copy_from_server(database, address, half / _DATABASE)
        beside = folders_of(database)
        manifest = CopyManifest(
            made_at=made_at,
            database_sha256=_sha256(half / _DATABASE),
            rows=_rows(half / _DATABASE),
            photographs=_copy_files(beside.photographs, folder / _PICTURES),
            recordings=_copy_files(beside.recordings, folder / _RECORDINGS),
        )
        write_through(half / _MANIFEST, manifest.model_dump_json(indent=2).encode())
        # Before it has a copy's name: one that is not whole never counts as one.
        checked_copy(half)
        half.replace(copy)
        _keep_by_rule(folder)
        last = LastCopy(made_at=made_at, folder=str(folder.resolve()))
        write_through(last_copy_of(database), last.model_dump_json().encode())
    except (OSError, sqlite3.Error, UnusableDatabase) as error:
        raise _refused(f"{folder} cannot be used: {error}") from error
    finally:
        shutil.rmtree(half, ignore_errors=True)
    return copy


def _shelves(manifest: CopyManifest) -> dict[str, dict[str, str]]:
    """The files that a copy holds beside its database, by the shelf on which they are."""
    return {_PICTURES: manifest.photographs, _RECORDINGS: manifest.recordings}


def checked_copy(copy: Path) -> CopyManifest:
    """A copy's manifest, once everything is there as it says.

    Raises:
        Refused: something is missing, or is not what it was.
    """
    try:
        manifest = CopyManifest.model_validate_json((copy / _MANIFEST).read_bytes())
    except (OSError, ValueError) as error:
        raise _refused(f"{copy} is no copy of a workshop: it has no sound {_MANIFEST}") from error
    database = copy / _DATABASE
    if not database.is_file() or _sha256(database) != manifest.database_sha256:
        raise _refused(f"{database} is not as it was copied")
    if _rows(database) != manifest.rows:
        raise _refused(f"{database} does not hold as many rows as were copied")
    for shelf, named in _shelves(manifest).items():
        for name, digest in named.items():
            kept = copy.parent / shelf / digest
            if not kept.is_file() or _sha256(kept) != digest:
                what = "photograph" if shelf == _PICTURES else "sound recording"
                raise _refused(f"the {what} {name} is missing from {copy.parent / shelf}, or damaged")
    return manifest


def _copies(folder: Path) -> dict[datetime, Path]:
    found: dict[datetime, Path] = {}
    for path in folder.iterdir():
        if (path / _MANIFEST).is_file() and not path.name.endswith(_HALF):
            try:
                found[datetime.strptime(path.name, _NAME).replace(tzinfo=UTC)] = path
            except ValueError:
                continue
    return found


def kept_by_rule(made: Sequence[datetime]) -> set[datetime]:
    """Which copies are kept: the newest of each of the last days, weeks and months that have one."""
    newest_first = sorted(made, reverse=True)
    kept: set[datetime] = set()
    periods: tuple[tuple[int, Callable[[datetime], object]], ...] = (
        (_DAYS, lambda at: at.date()),
        (_WEEKS, lambda at: at.isocalendar()[:2]),
        (_MONTHS, lambda at: (at.year, at.month)),
    )
    for most, period in periods:
        seen: set[object] = set()
        for at in newest_first:
            if period(at) not in seen and len(seen) < most:
                seen.add(period(at))
                kept.add(at)
    return kept


def _keep_by_rule(folder: Path) -> None:
    copies = _copies(folder)
    kept = kept_by_rule(list(copies))
    for at, path in copies.items():
        if at not in kept:
            shutil.rmtree(path)
    used: dict[str, set[str]] = {}
    for at in kept:
        manifest = CopyManifest.model_validate_json((copies[at] / _MANIFEST).read_bytes())
        for shelf, named in _shelves(manifest).items():
            used.setdefault(shelf, set()).update(named.values())
    for shelf, digests in used.items():
        for file in (folder / shelf).iterdir() if (folder / shelf).is_dir() else ():
            if file.name not in digests:
                file.unlink()


def restore_copy(copy: Path, database: Path, *, now: datetime) -> Path | None:
    """A copy in place of a workshop; what was there is kept beside it.

    Returns:
        The folder of what it replaced; None where nothing was there.

    Raises:
        Refused: the copy is not whole, the workshop is in use, or the disk does not take it.
    """
    manifest = checked_copy(copy)
    try:
        return _restored(copy, manifest, database, now)
    except OSError as error:
        raise _refused(f"{database} cannot be restored: {error}") from error


def _restored(copy: Path, manifest: CopyManifest, database: Path, now: datetime) -> Path | None:
    replaced = _put_aside(database, now) if database.exists() else None
    beside = folders_of(database)
    half = database.with_name(f"{database.name}{_HALF}")
    database.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(copy / _DATABASE, half)
    half.chmod(0o600)
    for shelf, into in ((_PICTURES, beside.photographs), (_RECORDINGS, beside.recordings)):
        for name, digest in _shelves(manifest)[shelf].items():
            into.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(copy.parent / shelf / digest, into / name)
    half.replace(database)
    look_at(database)
    return replaced


def _put_aside(database: Path, now: datetime) -> Path:
    """Move a workshop's files into a folder of their own; whatever they are, they are kept."""
    _check_unused(database)
    aside = database.with_name(f"{database.stem}-replaced-{now.astimezone(UTC).strftime(_NAME)}")
    aside.mkdir()
    beside = folders_of(database)
    names = (
        *(f"{database.name}{end}" for end in ("", "-wal", "-shm")),
        beside.photographs.name,
        beside.recordings.name,
    )
    for name in names:
        path = database.with_name(name)
        if path.exists():
            path.rename(aside / name)
    return aside


def _check_unused(database: Path) -> None:
    """Nobody may have the database open: what they write next would be lost.

    Raises:
        Refused: somebody has.
    """
    try:
        look_at(database)
    except UnusableDatabase:
        # What is no database is in nobody's use.
        return
    connection = sqlite3.connect(database, timeout=0.5)
    try:
        # Only who is alone with it can change how it keeps its log.
        connection.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.OperationalError as error:
        raise _refused(f"{database} is in use; end 'pronostico serve' first") from error
    finally:
        connection.close()


def last_copy(database: Path) -> LastCopy | None:
    """The last good copy of a database; None where none is known."""
    try:
        return LastCopy.model_validate_json(last_copy_of(database).read_bytes())
    except (OSError, ValueError):
        return None
