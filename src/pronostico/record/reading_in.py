"""From text to a record, or to every fault that the text has."""

from datetime import date

from pydantic import ValidationError

from pronostico.record.crosscheck import cross_faults
from pronostico.record.faults import Fault, fault_from_pydantic
from pronostico.record.models import Record
from pronostico.record.older import record_of_today
from pronostico.record.plain_json import NotPlain, plain_json


class NotARecord(ValueError):
    """The text is no valid record; `faults` holds every fault, in the order of their paths."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("\n".join(str(fault) for fault in faults))


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
    try:
        document = record_of_today(plain_json(text))
    except NotPlain as error:
        raise NotARecord(error.faults) from error
    faults: list[Fault] = []
    record: Record | None = None
    try:
        record = Record.model_validate(document)
    except ValidationError as error:
        faults = [fault_from_pydantic(Record, one) for one in error.errors(include_url=False)]
    faulty = {fault.path for fault in faults}
    faults += [fault for fault in cross_faults(document, today=today) if fault.path not in faulty]
    if faults or record is None:
        raise NotARecord(faults)
    return record
