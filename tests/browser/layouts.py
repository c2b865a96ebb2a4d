"""Records of engines of many shapes, for trying the plan of the head."""

from typing import Any

from tests.builders import record_document

SHAPES: dict[str, dict[str, Any]] = {
    "single, two valves": {"cylinders": 1, "intake": 1, "exhaust": 1},
    "in-line three, twin cam": {
        "cylinders": 3,
        "intake": 2,
        "exhaust": 2,
        "layout": {"intake_side": "right"},
    },
    "in-line six, front at the right": {
        "cylinders": 6,
        "intake": 1,
        "exhaust": 1,
        "layout": {"intake_side": "left", "front": "right"},
    },
    "in-line six, five valves": {
        "cylinders": 6,
        "intake": 3,
        "exhaust": 2,
        "layout": {"intake_side": "left"},
    },
    "in-line four, four valves": {
        "cylinders": 4,
        "intake": 2,
        "exhaust": 2,
        "layout": {"intake_side": "left"},
    },
    "in-line four, one row": {"cylinders": 4, "intake": 1, "exhaust": 1},
    "V twin": {"cylinders": 2, "intake": 1, "exhaust": 1, "layout": {"kind": "v", "banks": [[1], [2]]}},
    "V eight": {
        "cylinders": 8,
        "intake": 1,
        "exhaust": 1,
        "layout": {"kind": "v", "banks": [[1, 3, 5, 7], [2, 4, 6, 8]]},
    },
    "V six, four valves": {"cylinders": 6, "intake": 2, "exhaust": 2, "layout": {"kind": "v"}},
    "flat twin, three valves": {
        "cylinders": 2,
        "intake": 2,
        "exhaust": 1,
        "layout": {"kind": "flat", "intake_side": "outside"},
    },
}


def shaped_record(name: str) -> dict[str, Any]:
    """A record without visits of an engine of that shape."""
    shape = SHAPES[name]
    valves = []
    for cylinder in range(1, shape["cylinders"] + 1):
        sides = ["intake"] * shape["intake"] + ["exhaust"] * shape["exhaust"]
        for place, side in enumerate(sides, start=1):
            several = shape[side] > 1
            number = sides[:place].count(side)
            valve_id = f"{cylinder}{side[0].upper()}{number if several else ''}"
            valves.append({"id": valve_id, "cylinder": cylinder, "side": side, "place": place})
    document = record_document()
    document["visits"], document["cases"] = [], []
    document["engine"].update(
        id=name.replace(" ", "-").replace(",", ""),
        name=name,
        firing_order=None,
        valves=valves,
        layout=shape.get("layout"),
    )
    return document
