"""The server asked beside the page, as one of its own pages would ask."""

from typing import Any
from urllib.parse import urlsplit

import httpx2

LIMIT_S = 30
"""The machine may be shared and slow."""


def send(method: str, address: str, **how: Any) -> httpx2.Response:
    """A request that changes something."""
    parts = urlsplit(address)
    headers = {"Origin": f"{parts.scheme}://{parts.netloc}", **how.pop("headers", {})}
    return httpx2.request(method, address, headers=headers, timeout=LIMIT_S, **how)


def get(address: str, **how: Any) -> httpx2.Response:
    """What the server has."""
    return httpx2.get(address, timeout=LIMIT_S, **how)


def post(address: str, **how: Any) -> httpx2.Response:
    """Something new."""
    return send("POST", address, **how)
