"""Work in a process of its own: it ends with the one that began it, and takes no more than it may."""

import multiprocessing
import os
import resource
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import TypeVar

from pronostico.errors import Refused, ServiceError
from pronostico.limits import APART_BYTES, APART_S, MEGABYTE
from pronostico.record.faults import Fault

_WATCHED_EVERY_S = 1.0
Result = TypeVar("Result")
OnProgress = Callable[[int, int], None]


def end_with(parent: int) -> None:
    """Have this process end as soon as its parent has: one that was killed tells nobody."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(_WATCHED_EVERY_S)
        os._exit(1)

    threading.Thread(target=watch, name="parent", daemon=True).start()


def _limited(
    parent: int, results: Connection, most_bytes: int, most_s: int, work: Callable[[OnProgress], object]
) -> None:
    end_with(parent)
    # Who saves an answer goes first.
    os.nice(10)
    resource.setrlimit(resource.RLIMIT_AS, (most_bytes, most_bytes))
    resource.setrlimit(resource.RLIMIT_CPU, (most_s, most_s))

    def tell(done: int, total: int) -> None:
        results.send(("progress", (done, total)))

    try:
        results.send(("done", work(tell)))
    except ServiceError as error:
        faults = error.faults if isinstance(error, Refused) else [Fault("$", str(error))]
        results.send(("refused", faults))
    except MemoryError:
        # Left to the parent to put into words, as where the system ended this process.
        os._exit(1)


def run_apart(
    work: Callable[[OnProgress], Result],
    *,
    on_progress: OnProgress | None = None,
    most_bytes: int = APART_BYTES,
    most_s: int = APART_S,
) -> Result:
    """The result of a function, computed in a process of its own.

    Args:
        work: a function of a module, or such a one with its first arguments; it is given a callback for its
            progress.
        most_bytes: of address space.
        most_s: of processor time.

    Raises:
        Refused: by the function; or it took more memory or time than it may.
    """
    # Spawned, not forked: a server with threads cannot be forked safely.
    context = multiprocessing.get_context("spawn")
    ours, theirs = context.Pipe(duplex=False)
    process = context.Process(
        target=_limited, args=(os.getpid(), theirs, most_bytes, most_s, work), daemon=True
    )
    process.start()
    theirs.close()
    try:
        while True:
            kind, told = ours.recv()
            if kind == "refused":
                raise Refused(told)
            if kind == "done":
                result: Result = told
                return result
            if on_progress is not None:
                on_progress(*told)
    except EOFError:
        # It ended without a word: over its limits, or ended from outside.
        limits = f"{most_bytes // MEGABYTE} MB of memory or {most_s} s"
        fault = Fault("$", f"takes more than {limits} to read, or its reading was ended from outside")
        raise Refused([fault]) from None
    finally:
        ours.close()
        process.kill()
        process.join()
