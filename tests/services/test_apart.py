"""Work in a process of its own: its result, its progress, its refusals, and its limits."""

import os
import time

import pytest

from pronostico.errors import NotThere, Refused
from pronostico.record.faults import Fault
from pronostico.services.apart import run_apart


def elsewhere(tell):
    tell(1, 2)
    return os.getpid()


def refusing(_tell):
    raise Refused([Fault("$.engine", "is none")])


def missing(_tell):
    raise NotThere("engine", "x")


def greedy(_tell):
    return len(bytearray(3_000_000_000))


def endless(_tell):
    # It gives way to everybody else: a second of its own may take a busy machine a while.
    until = time.monotonic() + 600
    while time.monotonic() < until:
        pass


def test_it_runs_in_another_process_and_says_how_far_it_is():
    told = []
    assert run_apart(elsewhere, on_progress=lambda *far: told.append(far)) != os.getpid()
    assert told == [(1, 2)]


@pytest.mark.parametrize(
    ("work", "path", "message"), [(refusing, "$.engine", "is none"), (missing, "$", "'x'")]
)
def test_what_it_refuses_is_refused_here(work, path, message):
    with pytest.raises(Refused) as refused:
        run_apart(work)
    (fault,) = refused.value.faults
    assert fault.path == path
    assert message in fault.message


def test_one_that_wants_more_memory_than_it_may_have_is_refused():
    with pytest.raises(Refused, match="2500 MB of memory"):
        run_apart(greedy, most_bytes=2_500_000_000)


def test_one_that_takes_longer_than_it_may_is_ended():
    with pytest.raises(Refused, match="or 1 s to read"):
        run_apart(endless, most_s=1)
