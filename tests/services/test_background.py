"""The processes that compute: none outlives the server that began it."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

_LONGEST_S = 60.0
# A parent that begins a computing process, says which, and waits to be killed.
_PARENT = """
import os, sys, time
from concurrent.futures import ProcessPoolExecutor
from pronostico.services.engines.background import _pool
if __name__ == "__main__":
    with _pool(1) as pool:
        print(pool.submit(os.getpid).result(), flush=True)
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
    end = time.monotonic() + _LONGEST_S
    while is_there(worker) and time.monotonic() < end:
        time.sleep(0.1)
    assert not is_there(worker)
