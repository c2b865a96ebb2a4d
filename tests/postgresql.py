"""A PostgreSQL server of the tests' own: Debian's, in a temporary folder, reached by a socket in it alone."""

import os
import pwd
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from itertools import count
from pathlib import Path

import psycopg

_CLUSTER = ("-U", "tests", "-A", "trust", "--locale=C.UTF-8", "-N")
_PROGRAMS = sorted(Path("/usr/lib/postgresql").glob("*/bin"))


def _user() -> str | None:
    """Whose server it is: PostgreSQL refuses to be run by root."""
    return "postgres" if os.geteuid() == 0 else None


@dataclass(slots=True)
class Server:
    """A running server; `address(name)` is that of one of its databases."""

    folder: Path
    options: str
    _names: Iterator[int] = field(default_factory=count)

    def address(self, name: str) -> str:
        return f"postgresql://tests@/{name}?host={self.folder}"

    def _do(self, statement: str) -> None:
        with psycopg.connect(self.address("postgres"), autocommit=True) as connection:
            connection.execute(statement.encode())

    def database(self, like: str | None = None) -> str:
        """The address of a new database, empty or like the one at another address."""
        name = f"w{os.getpid()}_{next(self._names)}"
        template = "template0 ENCODING 'UTF8'" if like is None else f'"{_name(like)}"'
        self._do(f'CREATE DATABASE "{name}" TEMPLATE {template}')
        return self.address(name)

    def drop(self, address: str) -> None:
        self._do(f'DROP DATABASE "{_name(address)}" WITH (FORCE)')


def _name(address: str) -> str:
    return address.partition("@/")[2].partition("?")[0]


def _run(folder: Path, program: str, *arguments: str) -> None:
    subprocess.run(
        [str(_PROGRAMS[-1] / program), *arguments],
        check=True,
        cwd=folder,
        user=_user(),
        stdout=subprocess.DEVNULL,
        # The server keeps the handle: a pipe would never end.
        stderr=subprocess.DEVNULL,
    )


def start(folder: Path, *, durable: bool = False) -> Server:
    """Make a cluster in a folder that is there, and start it.

    Args:
        durable: whether it waits for the disk, as in a workshop.
    """
    assert _PROGRAMS, "Debian's package postgresql is needed"
    if _user() is not None:
        account = pwd.getpwnam("postgres")
        os.chown(folder, account.pw_uid, account.pw_gid)
    _run(folder, "initdb", "-D", str(folder / "data"), *_CLUSTER)
    options = [f"-c unix_socket_directories={folder}", "-c listen_addresses=", "-c max_connections=200"]
    if not durable:
        options += ["-c fsync=off", "-c synchronous_commit=off", "-c full_page_writes=off"]
    server = Server(folder, " ".join(options))
    start_again(server)
    return server


def start_again(server: Server) -> None:
    """Start one that was ended."""
    data, log = server.folder / "data", server.folder / "log"
    _run(server.folder, "pg_ctl", "-D", str(data), "-w", "-l", str(log), "-o", server.options, "start")


def stop(server: Server, how: str = "immediate") -> None:
    """End it; `how`: as for pg_ctl."""
    _run(server.folder, "pg_ctl", "-D", str(server.folder / "data"), "-m", how, "stop")


@contextmanager
def running(*, durable: bool = False) -> Iterator[Server]:
    """A server for as long as the block runs; nothing of it is left."""
    # A short path: the name of a socket has a hundred characters at most.
    folder = Path(tempfile.mkdtemp(prefix="pg-", dir="/tmp"))
    server = None
    try:
        server = start(folder, durable=durable)
        yield server
    finally:
        if server is not None:
            stop(server)
        shutil.rmtree(folder, ignore_errors=True)
