"""Engines of many shapes with a visit under way."""

from datetime import date

from tests.browser.asking import post
from tests.browser.layouts import shaped_record


def started(
    server, shape: str, blades: list[float] | None = None, shares: dict[str, str] | None = None
) -> str:
    """The address of a visit of an engine of a shape; `shares`: valves that share a rocker."""
    record = shaped_record(shape)
    record["engine"]["firing_order"] = list(
        range(1, 1 + max(v["cylinder"] for v in record["engine"]["valves"]))
    )
    for valve in record["engine"]["valves"]:
        other = {**(shares or {}), **{b: a for a, b in (shares or {}).items()}}.get(valve["id"])
        valve["shares_rocker_with"] = [] if other is None else [other]
    if blades:
        record["gauge_set"] = {"id": "set", "name": "A set", "blades_mm": blades}
    assert post(f"{server.address}/api/records", json=record).status_code == 201
    engine = record["engine"]["id"]
    visit = {"id": "v1", "date": date.today().isoformat(), "usage": 10, "temperature_c": 20}
    assert post(f"{server.address}/api/engines/{engine}/visits", json=visit).status_code == 201
    return f"{server.address}/engines/{engine}/visits/v1"


METRIC = [0.04, 0.05, 0.08, 0.10, 0.13, 0.15, 0.18, 0.20, 0.23, 0.25, 0.28, 0.30, 0.33, 0.35, 0.40]
