"""The Shop as a page reads it: asked again until everything is reckoned."""

import time
from typing import Any

from fastapi.testclient import TestClient

_LONGEST_S = 120


def lanes_of(client: TestClient) -> list[dict[str, Any]]:
    """The lanes, once all of them have their result."""
    end = time.monotonic() + _LONGEST_S
    while time.monotonic() < end:
        shop = client.get("/api/shop").json()
        if all(lane["result"] for lane in shop["lanes"]):
            return shop["lanes"]
        assert not shop["failed"]
        time.sleep(0.05)
    raise TimeoutError("the shop was not reckoned")
