"""The workshop page as a page reads it: asked again until everything is computed."""

import time
from typing import Any

from fastapi.testclient import TestClient

_LONGEST_S = 120


def timelines_of(client: TestClient) -> list[dict[str, Any]]:
    """The timelines, once all of them have their result."""
    end = time.monotonic() + _LONGEST_S
    while time.monotonic() < end:
        workshop = client.get("/api/workshop").json()
        if all(timeline["result"] for timeline in workshop["timelines"]):
            return workshop["timelines"]
        assert not workshop["failed"]
        time.sleep(0.05)
    raise TimeoutError("the workshop was not computed")
