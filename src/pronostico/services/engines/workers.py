"""The processes that compute beside the server: begun when there is much to do, kept while there is."""

import multiprocessing
import os
import threading
from concurrent.futures import ProcessPoolExecutor

from pronostico.services.apart import end_with

# As the system counts it, 0 to 19.
_NICENESS = 10
# They take seconds to begin and some hundred megabytes: who changes engine after engine finds them there.
_KEPT_S = 60.0


def _begin(parent: int) -> None:
    # Whoever waits for an answer at an engine goes before what is computed ahead.
    os.nice(_NICENESS)
    end_with(parent)


class Workers:
    """Some processes that are begun when they are asked for, and ended when they were idle for a while.

    Args:
        count: how many.
        kept_s: how long they are kept after `rest`, in seconds.
    """

    def __init__(self, count: int, *, kept_s: float = _KEPT_S) -> None:
        self.count, self._kept_s = count, kept_s
        self._lock = threading.Lock()
        self._pool: ProcessPoolExecutor | None = None
        self._idle: threading.Timer | None = None

    @property
    def begun(self) -> bool:
        """Whether they are there already."""
        return self._pool is not None

    def pool(self) -> ProcessPoolExecutor:
        """The processes, at work until `rest`."""
        with self._lock:
            self._wake()
            if self._pool is None:
                # Spawned, not forked: a server with threads cannot be forked safely.
                self._pool = ProcessPoolExecutor(
                    self.count,
                    mp_context=multiprocessing.get_context("spawn"),
                    initializer=_begin,
                    initargs=(os.getpid(),),
                )
            return self._pool

    def rest(self) -> None:
        """There is nothing to do for now: they end, unless they are asked for again soon."""
        with self._lock:
            self._wake()
            if self._pool is not None:
                timer = threading.Timer(self._kept_s, lambda: self._end_after(timer))
                timer.daemon = True
                self._idle = timer
                timer.start()

    def close(self) -> None:
        """End them, whatever they are at."""
        with self._lock:
            self._wake()
            self._end()

    def _wake(self) -> None:
        if self._idle is not None:
            self._idle.cancel()
            self._idle = None

    def _end_after(self, timer: threading.Timer) -> None:
        with self._lock:
            # One that was asked for since has no timer, or another one.
            if self._idle is timer:
                self._idle = None
                self._end()

    def _end(self) -> None:
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
            self._pool = None
