"""The processes that compute: none outlives the server that began it."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

from pronostico.services.engines.workers import Workers

_LONGEST_S = 60.0
# A parent that begins a computing process, says which, and waits to be killed.
_PARENT = """
import os, sys, time
from concurrent.futures import ProcessPoolExecutor
from pronostico.services.engines.workers import Workers
if __name__ == "__main__":
    print(Workers(1).pool().submit(os.getpid).result(), flush=True)
    time.sleep(600)
"""


def is_there(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    # One that has ended and was not waited for is still listed.
    state = Path(f"/proc/{process}/stat").read_text("ascii").rsplit(")", 1)[1].split()[0]
    return state != "Z"


def is_gone(process: int) -> bool:
    end = time.monotonic() + _LONGEST_S
    while is_there(process) and time.monotonic() < end:
        time.sleep(0.1)
    return not is_there(process)


def test_a_killed_server_leaves_no_computing_process(tmp_path):
    script = tmp_path / "parent.py"
    script.write_text(_PARENT, "utf-8")
    parent = subprocess.Popen([sys.executable, str(script)], stdout=subprocess.PIPE, text=True)
    assert parent.stdout is not None
    worker = int(parent.stdout.readline())
    assert is_there(worker)
    parent.send_signal(signal.SIGKILL)
    parent.wait(timeout=20)
    parent.stdout.close()
    assert is_gone(worker)


def test_processes_are_kept_for_what_comes_next_and_end_when_nothing_does():
    busy, idle = Workers(1, kept_s=600.0), Workers(1, kept_s=0.0)
    kept, ended = (one.pool().submit(os.getpid).result() for one in (busy, idle))
    for one in (busy, idle):
        one.rest()
    assert is_gone(ended) and not idle.begun
    assert busy.begun and busy.pool().submit(os.getpid).result() == kept
    busy.close()
    assert is_gone(kept) and not busy.begun
