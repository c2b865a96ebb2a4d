"""Files on their way into a folder: whole under a temporary name, and put in place once all is stored.

What a killed process left behind on its way is cleared away at the next start.
"""

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

_PREFIX = ".incoming-"
_HALF = ".part"


def write_through(path: Path, content: bytes) -> None:
    """The content on the disk itself, not in a cache that a power cut would lose."""
    with path.open("wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())


def flush_file(path: Path) -> None:
    """What a file holds on the disk itself."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _flush_folder(folder: Path) -> None:
    """The folder's own entries on the disk, where the system lets a folder be opened."""
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


@contextmanager
def temporary_folder(within: Path) -> Iterator[Path]:
    """A folder of this process inside another, gone at the end."""
    within.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.mkdtemp(prefix=f"{_PREFIX}{os.getpid()}-", dir=within))
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


class StagedFiles:
    """Files that wait beside their folder until the transaction that is evidence for them is committed."""

    def __init__(self, within: Path) -> None:
        """Begin with none.

        Args:
            within: a temporary folder on the same file system as the folders that the files go to.
        """
        self._within = within
        self._waiting: list[tuple[Path, Path]] = []

    def add(self, folder: Path, name: str, content: bytes) -> None:
        """Write a file, for the time being under another name."""
        path = self._within / f"{len(self._waiting)}-{name}"
        write_through(path, content)
        self._waiting.append((path, folder / name))

    def put_in_place(self) -> None:
        """Move every file to where it belongs; each is there whole or not at all."""
        for path, place in self._waiting:
            place.parent.mkdir(parents=True, exist_ok=True)
            try:
                path.replace(place)
            except OSError:
                # On another file system it cannot be moved at one stroke: copied beside its place, it can.
                half = place.with_name(f"{place.name}{_HALF}")
                write_through(half, path.read_bytes())
                half.replace(place)
        for folder in {place.parent for _, place in self._waiting}:
            _flush_folder(folder)
        self._waiting = []


def _is_running(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


def clear_unfinished(folder: Path) -> None:
    """Remove what processes that run no more left on its way into a folder."""
    if not folder.is_dir():
        return
    for path in folder.glob(f"{_PREFIX}*"):
        process = path.name.removeprefix(_PREFIX).split("-")[0]
        if not (process.isdigit() and _is_running(int(process))):
            if path.is_dir():
                shutil.rmtree(path, ignore_errors=True)
            else:
                path.unlink(missing_ok=True)
    for half in folder.glob(f"*{_HALF}"):
        half.unlink(missing_ok=True)
