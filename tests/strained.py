"""The application over a slow disk and with a clock that jumps: `python -m tests.strained serve ...`."""

import random
import time
from datetime import datetime, timedelta, tzinfo
from typing import Any

from sqlalchemy import event
from sqlalchemy.engine import Engine

from pronostico import cli
from pronostico.api import deps

_SLOWEST_COMMIT_S = 0.5
_JUMPS = (timedelta(), timedelta(days=-400), timedelta(hours=-1), timedelta(seconds=-5), timedelta(days=400))


class JumpingClock(datetime):
    """A clock that somebody sets to and fro."""

    @classmethod
    def now(cls, tz: tzinfo | None = None) -> Any:
        return datetime.now(tz) + random.choice(_JUMPS)


def _slow(_connection: object) -> None:
    time.sleep(random.uniform(0.0, _SLOWEST_COMMIT_S))


if __name__ == "__main__":
    event.listen(Engine, "commit", _slow)
    deps.datetime = JumpingClock  # type: ignore[misc]
    cli.main()
