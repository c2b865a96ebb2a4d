"""Wrong passwords slow down who tries them, by account and by address.

Kept in memory: a restart forgets it, and by then Argon2 alone has made guessing slow.
"""

import threading
from collections import OrderedDict
from collections.abc import Sequence
from datetime import datetime, timedelta

from pronostico.errors import ServiceError

_FREE = 5
"""Wrong ones in a row before any waiting: fingers slip."""
_LONGEST = timedelta(minutes=15)
_FORGOTTEN_AFTER = timedelta(days=1)
"""Without a wrong one: a workshop behind one address would else pay for years of slips."""
_MOST_KEPT = 10_000


class TooSoon(ServiceError):
    """To be tried again only after some seconds."""

    def __init__(self, seconds: int) -> None:
        self.seconds = seconds
        super().__init__(f"too many wrong tries; try again in {seconds} s")


class Slowing:
    """Counts wrong tries in a row; each after the first few doubles the wait."""

    def __init__(self) -> None:
        self._wrong: OrderedDict[str, tuple[int, datetime]] = OrderedDict()
        self._lock = threading.Lock()

    def _until(self, key: str) -> datetime | None:
        count, last = self._wrong.get(key, (0, None))
        if last is None or count < _FREE:
            return None
        return last + min(_LONGEST, timedelta(seconds=2 ** min(count - _FREE, 12)))

    def check(self, keys: Sequence[str], now: datetime) -> None:
        """Whether any of these may be tried now.

        Raises:
            TooSoon: not yet.
        """
        with self._lock:
            waits = [until - now for key in keys if (until := self._until(key)) is not None]
        longest = max(waits, default=timedelta())
        if longest > timedelta():
            raise TooSoon(int(longest.total_seconds()) + 1)

    def wrong(self, keys: Sequence[str], now: datetime) -> None:
        """A wrong try."""
        with self._lock:
            for key in keys:
                count, last = self._wrong.pop(key, (0, now))
                self._wrong[key] = (1 if now - last > _FORGOTTEN_AFTER else count + 1, now)
            while len(self._wrong) > _MOST_KEPT:
                self._wrong.popitem(last=False)

    def right(self, keys: Sequence[str]) -> None:
        """A right one: the count begins again, but for the address, where others may sit."""
        with self._lock:
            for key in keys:
                if not key.startswith("address"):
                    self._wrong.pop(key, None)
