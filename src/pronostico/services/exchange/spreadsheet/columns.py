"""What the columns of a spreadsheet are: recognised by their heads, or chosen by hand."""

import re
from collections.abc import Mapping
from typing import Literal, get_args

Role = Literal[
    "valve",
    "cylinder",
    "side",
    "date",
    "usage",
    "visit",
    "phase",
    "went",
    "refused",
    "felt",
    "clearance",
    "temperature",
    "engine",
]
ROLES: tuple[Role, ...] = get_args(Role)
ROLE_WORDS: dict[Role, str] = {
    "valve": "valve",
    "cylinder": "cylinder",
    "side": "intake or exhaust",
    "date": "date",
    "usage": "usage (running total)",
    "visit": "visit",
    "phase": "found or left",
    "went": "blade that went in",
    "refused": "blade that would not go",
    "felt": "how it felt",
    "clearance": "clearance, one figure",
    "temperature": "temperature",
    "engine": "engine",
}
# Whole words of a head, small letters; the first role that has one of them takes the column.
_WORDS: tuple[tuple[Role, tuple[str, ...]], ...] = (
    (
        "refused",
        ("did not go", "did not", "didnt go", "not go", "no go", "nogo", "refused", "refuses", "max blade"),
    ),
    ("went", ("went", "goes", "go", "passes", "passed", "min blade")),
    ("felt", ("felt", "feel", "drag")),
    ("phase", ("phase", "found or left", "found left", "before after", "state")),
    ("date", ("date", "day", "when")),
    (
        "usage",
        (
            "usage",
            "hours",
            "hour",
            "hrs",
            "h",
            "km",
            "mileage",
            "miles",
            "mi",
            "odometer",
            "meter",
            "distance",
        ),
    ),
    ("temperature", ("temperature", "temp", "deg")),
    ("engine", ("engine", "machine", "unit no", "vehicle")),
    ("visit", ("visit", "check", "check no", "service")),
    ("cylinder", ("cylinder", "cyl", "cyl no")),
    ("side", ("side", "in ex", "intake exhaust", "type")),
    ("valve", ("valve", "valve no")),
    ("clearance", ("clearance", "gap", "lash", "reading", "measured", "value")),
)


def _plain(name: str) -> str:
    """A head without units in brackets and marks: only what names the column."""
    name = re.sub(r"\([^()]*\)|\[[^\[\]]*\]", " ", name.lower().replace("'", ""))
    name = re.sub(r"_(mm|thou|in|c|f|h)\b", " ", name)
    return " ".join(re.findall(r"[a-z]+", name))


def _role_of(name: str) -> Role | None:
    plain = _plain(name)
    # A head that is the word comes before one that only has it.
    for role, words in _WORDS:
        if plain in words:
            return role
    for role, words in _WORDS:
        if any(re.search(rf"\b{re.escape(word)}\b", plain) for word in words if len(word) > 2):
            return role
    return None


def recognised(head: tuple[str, ...]) -> dict[Role, int]:
    """The column of each role that a head tells of; of two that tell of the same the first."""
    found: dict[Role, int] = {}
    for index, name in enumerate(head):
        role = _role_of(name)
        if role is not None:
            found.setdefault(role, index)
    return found


def missing(columns: Mapping[Role, int]) -> list[str]:
    """What has to be among the columns and is not, in words."""
    lacking = []
    if "valve" not in columns and not ("cylinder" in columns and "side" in columns):
        lacking.append("which valve (a column of valves, or one of cylinders and one of sides)")
    lacking += [ROLE_WORDS[role] for role in ("date", "usage") if role not in columns]
    if not {"went", "refused", "clearance"} & set(columns):
        lacking.append("what was read (a blade that went in, one that would not, or a single figure)")
    return lacking
