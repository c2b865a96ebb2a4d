"""A full copy every day, made by the server itself, into a folder of the owner's choosing.

Where and when stands in a file beside the database: it is this machine's, not the workshop's.
"""

import logging
import os
import tempfile
import threading
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from pronostico.errors import Refused, ServiceError
from pronostico.record.faults import Fault
from pronostico.services.exchange.full_copy import last_copy, make_copy
from pronostico.services.staging import write_through
from pronostico.settings import daily_copies_of

_LOG = logging.getLogger("pronostico.copies")
_LOOKED_EVERY_S = 60.0


class DailyCopy(BaseModel):
    """The folder for the copies, and the hour of the day, 0 to 23, from which on one is due."""

    model_config = ConfigDict(extra="forbid", strict=True)

    folder: Annotated[str, Field(max_length=1000)]
    hour: Annotated[int, Field(ge=0, le=23)]


def daily_copy(database: Path) -> DailyCopy | None:
    """What is set for a database; None where nothing is."""
    try:
        return DailyCopy.model_validate_json(daily_copies_of(database).read_bytes())
    except (OSError, ValueError):
        return None


def set_daily_copy(database: Path, daily: DailyCopy | None) -> None:
    """Set it anew; None: no daily copies.

    Raises:
        Refused: the folder cannot be used.
    """
    kept = daily_copies_of(database)
    if daily is None:
        kept.unlink(missing_ok=True)
        return
    folder = Path(daily.folder)
    if not folder.is_absolute():
        raise Refused([Fault("$.folder", "must be a whole path, for example /media/backup/pronostico")])
    try:
        # Not its parents: a slip of the pen is no folder to be made.
        folder.mkdir(exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            pass
    except (OSError, ValueError) as error:
        why = os.strerror(error.errno) if isinstance(error, OSError) and error.errno else "is no path"
        raise Refused([Fault("$.folder", f"cannot be written to: {why}; choose another folder")]) from error
    write_through(kept, daily.model_dump_json().encode())


def is_due(daily: DailyCopy, last_made_at: datetime | None, now: datetime) -> bool:
    """Whether a copy is due: none was made since the hour that was last passed.

    Args:
        now: with the time zone that the hour is meant in.

    >>> at = datetime.fromisoformat
    >>> daily = DailyCopy(folder="/copies", hour=2)
    >>> is_due(daily, at("2026-03-01T02:01+01:00"), at("2026-03-02T01:59+01:00"))
    False
    >>> is_due(daily, at("2026-03-01T02:01+01:00"), at("2026-03-02T02:00+01:00"))
    True

    A copy of tomorrow was made by a clock that was wrong:

    >>> is_due(daily, at("2027-03-01T02:01+01:00"), at("2026-03-02T01:00+01:00"))
    True
    """
    passed = now.replace(hour=daily.hour, minute=0, second=0, microsecond=0)
    if passed > now:
        passed -= timedelta(days=1)
    return last_made_at is None or last_made_at < passed or last_made_at > now


def _local_now() -> datetime:
    return datetime.now().astimezone()


class DailyCopies:
    """Looks every minute whether a copy is due, in a thread of its own; `fault`: why the last one failed."""

    def __init__(
        self, database: Path, address: str | None = None, *, now: Callable[[], datetime] = _local_now
    ) -> None:
        self._database, self._address, self._now = database, address, now
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None
        self.fault: str | None = None

    def make_if_due(self) -> None:
        """Make a copy where one is due."""
        daily, last = daily_copy(self._database), last_copy(self._database)
        if daily is None:
            self.fault = None
            return
        if not is_due(daily, None if last is None else last.made_at, self._now()):
            return
        try:
            make_copy(self._database, Path(daily.folder), now=self._now(), address=self._address)
            self.fault = None
        except ServiceError as error:
            if self.fault != str(error):
                _LOG.error("no daily copy could be made: %s", error)
            self.fault = str(error)

    def _run(self) -> None:
        while not self._stop.is_set():
            self.make_if_due()
            self._stop.wait(_LOOKED_EVERY_S)

    def start(self) -> None:
        """Begin to look."""
        self._thread = threading.Thread(target=self._run, name="copies", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """End; a copy that is being made is finished."""
        self._stop.set()
        if self._thread is not None:
            self._thread.join()
