"""Databases for the tests: files, or with TEST_DATABASE=postgresql databases of a server of their own."""

import hashlib
import os
from contextlib import ExitStack
from pathlib import Path

from pronostico.store.database import Database
from pronostico.store.moving import copy_workshop
from tests.postgresql import Server, running

ON_POSTGRESQL = os.environ.get("TEST_DATABASE") == "postgresql"


class _Databases:
    """On a server, each file stands for a database that was made like it."""

    def __init__(self) -> None:
        self._stack = ExitStack()
        self._server: Server | None = None
        self._like: dict[str, str] = {}
        self._address_of: dict[Path, str] = {}
        self._kept: set[Path] = set()

    def _template(self, server: Server, path: Path) -> str:
        key = hashlib.sha256(path.read_bytes()).hexdigest() if path.exists() else "empty"
        if key not in self._like:
            address = server.database()
            target = Database(path, address)
            if path.exists():
                source = Database(path)
                copy_workshop(source, target)
                source.close()
            target.close()
            self._like[key] = address
        return self._like[key]

    def address(self, path: Path, *, for_long: bool = False) -> str:
        """The address of the database that stands for a file; made when it is first asked for.

        Args:
            for_long: not dropped when a test ends.
        """
        if self._server is None:
            self._server = self._stack.enter_context(running())
        if path not in self._address_of:
            template = self._template(self._server, path)
            self._address_of[path] = self._server.database(like=template)
            if for_long:
                self._kept.add(path)
        return self._address_of[path]

    def forget(self) -> None:
        """Drop what one test used."""
        for path in self._address_of.keys() - self._kept:
            assert self._server is not None
            self._server.drop(self._address_of.pop(path))

    def close(self) -> None:
        self._stack.close()


DATABASES = _Databases()


def opened(path: Path, *, for_long: bool = False) -> Database:
    """The database of a file, or the one on the server that stands for it; see `address`."""
    return Database(path, DATABASES.address(path, for_long=for_long) if ON_POSTGRESQL else None)
