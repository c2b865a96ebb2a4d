"""The made-up workshop beside one's own: another process, which ends with the one that started it."""

import json
import time
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

import pytest

from pronostico.errors import CannotStart
from pronostico.services import demonstration
from pronostico.services.demonstration import Beside


def get(address):
    with urlopen(address, timeout=30) as answer:
        return json.load(answer)


def ended(address):
    """Whether nothing answers there any more, soon."""
    for _ in range(100):
        try:
            get(f"{address}api/session")
        except URLError:
            return True
        time.sleep(0.1)
    return False


def test_it_is_started_once_says_what_it_is_and_ends_with_us():
    beside = Beside()
    try:
        address = beside.start("http://127.0.0.1:1/")
        session = get(f"{address}api/session")
        assert session["made_up"] == {"back": "http://127.0.0.1:1/"}
        assert session["can_look_around"] is False
        assert len(get(f"{address}api/engines")) == 8
        # Within it nobody looks around once more.
        again = Request(f"{address}api/demonstration", b"", {"Origin": address[:-1]}, method="POST")
        with pytest.raises(HTTPError, match="409"):
            urlopen(again, timeout=30)
        assert beside.start("http://127.0.0.1:2/") == address
    finally:
        beside.close()
    assert ended(address)
    beside.close()


def test_one_that_does_not_start_is_reported(monkeypatch):
    monkeypatch.setattr(demonstration.sys, "executable", "/bin/false")
    with pytest.raises(CannotStart, match="pronostico demo"):
        Beside().start("http://127.0.0.1:1/")
