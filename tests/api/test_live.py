"""What others change is told as it happens, over a real connection."""

import json
import signal
import threading
import time
from contextlib import suppress

import httpx2
import pytest

from tests import served
from tests.databases import DATABASES, ON_POSTGRESQL

ENGINE = "/api/engines/resurfacer-1"
ANSWER = {"valve": "4E", "phase": "found", "blades_mm": [0.1], "felt": "free"}


@pytest.fixture
def here(demo_path):
    port = served.free_port()
    address = DATABASES.address(demo_path) if ON_POSTGRESQL else None
    server = served.start(demo_path, port, address=address)
    yield f"http://127.0.0.1:{port}"
    served.end(server, signal.SIGKILL)


class Listener:
    """One page that listens; what it hears, each with when."""

    def __init__(self, here, page, more=""):
        self.heard, self._begun = [], threading.Event()
        address = f"{here}{ENGINE}/live?page={page}{more}"
        threading.Thread(target=self._listen, args=(address,), daemon=True).start()
        assert self._begun.wait(20)

    def _listen(self, address):
        # The server is ended while they still listen.
        with (
            suppress(httpx2.HTTPError),
            httpx2.Client(timeout=60) as client,
            client.stream("GET", address) as stream,
        ):
            for line in stream.iter_lines():
                self._begun.set()
                if line.startswith("data:"):
                    self.heard.append((time.monotonic(), json.loads(line[5:])))

    def wait_for(self, count):
        until = time.monotonic() + 20
        while len(self.heard) < count and time.monotonic() < until:
            time.sleep(0.02)
        assert len(self.heard) >= count
        return self.heard[count - 1]


def test_what_others_change_is_said_in_the_language_that_the_page_listens_in(here):
    english, italian = Listener(here, "a"), Listener(here, "b", "&language=it")
    with httpx2.Client(base_url=here, headers={"Origin": here, "X-Page": "own"}, timeout=60) as client:
        assert client.put(f"{ENGINE}/visits/v8/tries/said", json=ANSWER).status_code == 200
    assert english.wait_for(1)[1]["change"] == "feeler answer"
    said = italian.wait_for(1)[1]
    assert said["device"] == "questa macchina"
    assert said["change"] == "risposta della lama"


def test_what_one_page_changes_the_others_hear_within_two_seconds_and_itself_not(here):
    own, other = Listener(here, "own"), Listener(here, "other")
    headers = {"Origin": here, "X-Page": "own"}
    with httpx2.Client(base_url=here, headers=headers, timeout=60) as client:
        delays = []
        for n in range(5):
            sent = client.put(
                f"{ENGINE}/visits/v8/tries/live{n}", json={**ANSWER, "blades_mm": [0.1 + n / 100]}
            )
            assert sent.status_code == 200
            stored = time.monotonic()
            when, news = other.wait_for(n + 1)
            delays.append(when - stored)
            assert news == {"person": None, "device": "this machine", "change": "feeler answer"}
        # A busy machine may be late once; it is not late always.
        assert sorted(delays)[2] < 2.0
        # Another engine's news are not this one's.
        elsewhere = client.put("/api/engines/snowmobile/left-out", json={"left_out": True})
        assert elsewhere.status_code == 200
        assert (
            client.post(f"{ENGINE}/cases", json={"id": "c-live", "opened": "2026-01-01"}).status_code == 201
        )
        assert other.wait_for(6)[1]["change"] == "case opened"
    assert own.heard == []
