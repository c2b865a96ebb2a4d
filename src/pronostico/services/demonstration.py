"""A made-up workshop to look around in, served beside one's own and thrown away with it."""

import re
import subprocess
import sys
import threading
from dataclasses import dataclass

from pronostico.errors import CannotStart

_ADDRESS = re.compile(r"http://127\.0\.0\.1:\d+/")
_LONGEST_START_S = 90.0
_LONGEST_END_S = 10.0


@dataclass(frozen=True, slots=True)
class MadeUp:
    """The workshop that is served is the demonstration. `back`: the address of one's own; None: alone."""

    back: str | None = None


class Beside:
    """The demonstration in a process of its own: another address, so that nothing of either gets mixed."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[str] | None = None
        self._address = ""

    def start(self, back: str) -> str:
        """The address of the demonstration; it is made in some seconds if it is not there yet.

        Args:
            back: the address of one's own workshop.

        Raises:
            CannotStart: it ended, or took too long.
        """
        with self._lock:
            if self._process is not None and self._process.poll() is None:
                return self._address
            command = [sys.executable, "-m", "pronostico.cli", "demo", "--back", back]
            # It ends when its standard input does, whatever becomes of this process.
            process = subprocess.Popen(
                command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
            )
            address = _said_by(process)
            if address is None:
                process.kill()
                _end(process)
                raise CannotStart("the made-up workshop did not start; run 'pronostico demo' on the machine")
            self._process, self._address = process, address
            return address

    def close(self) -> None:
        """End it, and throw it away."""
        with self._lock:
            if self._process is not None:
                _end(self._process)
            self._process = None


def _end(process: subprocess.Popen[str]) -> None:
    """Have a demonstration end, at once where it does not by itself."""
    if process.stdin is not None:
        process.stdin.close()
    try:
        process.wait(timeout=_LONGEST_END_S)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait()
    if process.stdout is not None:
        process.stdout.close()


def _said_by(process: subprocess.Popen[str]) -> str | None:
    """The address that a starting demonstration names; None where it ends or says nothing for too long."""
    too_long = threading.Timer(_LONGEST_START_S, process.kill)
    too_long.start()
    try:
        for line in process.stdout or ():
            found = _ADDRESS.search(line)
            if found is not None:
                return found.group()
        return None
    finally:
        too_long.cancel()
