"""From text to a record, or to every fault that the text has."""

import json
from collections.abc import Hashable
from datetime import date
from typing import NoReturn

from pydantic import ValidationError

from pronostico.record.crosscheck import cross_faults
from pronostico.record.faults import Fault, fault_from_pydantic
from pronostico.record.models import Record


class NotARecord(ValueError):
    """The text is no valid record; `faults` holds every fault, in the order of their paths."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("\n".join(str(fault) for fault in faults))


def _refuse_constant(name: str) -> NoReturn:
    raise ValueError(f"{name} is no JSON number")


def _load_json(text: str) -> object:
    repeated: list[str] = []

    def no_repeats(pairs: list[tuple[str, object]]) -> dict[str, object]:
        seen: set[Hashable] = set()
        for key, _ in pairs:
            if key in seen:
                repeated.append(key)
            seen.add(key)
        return dict(pairs)

    try:
        document = json.loads(text, object_pairs_hook=no_repeats, parse_constant=_refuse_constant)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise NotARecord([Fault("$", f"is not JSON: {where}: {error.msg.lower()}")]) from error
    except RecursionError as error:
        raise NotARecord([Fault("$", "is nested too deeply for a record")]) from error
    except ValueError as error:
        raise NotARecord([Fault("$", f"is not JSON: {error}")]) from error
    if repeated:
        names = ", ".join(f"'{key}'" for key in dict.fromkeys(repeated))
        raise NotARecord([Fault("$", f"the same field stands twice in one object: {names}")])
    return document


def read_record(text: str | bytes, *, today: date) -> Record:
    """A record from its JSON text.

    Args:
        text: as text, or as the bytes of UTF-8.
        today: dates after it are faults.

    Raises:
        NotARecord: with every fault at once, each with its JSON path; broken JSON with line and column.
    """
    if isinstance(text, bytes):
        try:
            # Some editors put a mark before the text; it is no part of it.
            text = text.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise NotARecord([Fault("$", f"is not UTF-8 text (byte {error.start})")]) from error
    document = _load_json(text)
    faults: list[Fault] = []
    record: Record | None = None
    try:
        record = Record.model_validate_json(text)
    except ValidationError as error:
        faults = [fault_from_pydantic(Record, one) for one in error.errors(include_url=False)]
    told = {fault.path for fault in faults}
    faults += [fault for fault in cross_faults(document, today=today) if fault.path not in told]
    if faults or record is None:
        raise NotARecord(faults)
    return record
