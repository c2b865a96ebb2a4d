"""Changes by several people: what one changed the other keeps, and what both changed is refused.

A three-way merge by field (Mens, A state-of-the-art survey on software merging, IEEE Transactions on Software
Engineering 28(5), 2002): what the page showed, what stands there now, and what is to stand there.
"""

from collections.abc import Mapping
from typing import TypeVar

from pronostico.errors import Stale
from pronostico.record.faults import Fault

Value = TypeVar("Value")


def merged(
    now: Mapping[str, Value], shown: Mapping[str, Value] | None, new: Mapping[str, Value], *, at: str = "$"
) -> dict[str, Value]:
    """What is to be stored of some fields.

    Args:
        now: what stands there.
        shown: what the page showed before; None: it did not say, and nothing is compared.
        new: what is to stand there; the same fields.
        at: where they stand in what was sent.

    Raises:
        Stale: a field was changed by somebody else to something that is neither; nothing is stored.

    >>> merged({"dry": 900, "wet": 950}, {"dry": None, "wet": 950}, {"dry": None, "wet": 990})
    {'dry': 900, 'wet': 990}
    """
    if shown is None:
        return dict(new)
    clashing = [
        field
        for field, value in new.items()
        if value != shown.get(field) and now[field] not in (shown.get(field), value)
    ]
    if clashing:
        raise Stale([Fault(f"{at}.{field}", _said(now[field])) for field in clashing])
    return {field: now[field] if value == shown.get(field) else value for field, value in new.items()}


def _said(value: object) -> str:
    if value is None or (isinstance(value, list | str) and not value):
        return "has been removed"
    if isinstance(value, float):
        return f"has been changed to {value:g}"
    if isinstance(value, list):
        return f"has been changed to {', '.join(map(str, value))}"
    return f"has been changed to {value}"


def one_merged(field: str, now: Value, shown: tuple[Value] | None, new: Value) -> Value:
    """The same of a single field; `shown` in a tuple, since nothing may have been shown.

    Raises:
        Stale: it was changed by somebody else.
    """
    return merged({field: now}, None if shown is None else {field: shown[0]}, {field: new})[field]
