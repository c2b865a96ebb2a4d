"""The server asked beside the page, as one of its own pages would ask."""

from typing import Any
from urllib.parse import urlsplit

import httpx2


def send(method: str, address: str, **how: Any) -> httpx2.Response:
    """A request that changes something."""
    parts = urlsplit(address)
    headers = {"Origin": f"{parts.scheme}://{parts.netloc}", **how.pop("headers", {})}
    return httpx2.request(method, address, headers=headers, **how)


def post(address: str, **how: Any) -> httpx2.Response:
    """Something new."""
    return send("POST", address, **how)
