"""Why a service refuses.

ServiceError
|-- NotThere         something was named that does not exist
|-- AlreadyThere     something new would take the place of something else
|-- UnusableDatabase a file or address is no database that this version can use
|-- Stale            somebody else changed meanwhile what this would overwrite
|-- Refused          what was sent cannot be right; every fault with its JSON path
`-- Asked            what was sent is odd; stored once it is confirmed
"""

from dataclasses import dataclass
from pathlib import Path

from pronostico.record.faults import Fault


class ServiceError(Exception):
    """Base of every refusal of a service."""


class NotThere(ServiceError):
    """Something was named that does not exist."""

    def __init__(self, what: str, name: str) -> None:
        super().__init__(f"there is no {what} '{name}'")


class AlreadyThere(ServiceError):
    """Something new would take the place of something else."""


class CannotStart(ServiceError):
    """Another program that was asked for did not start."""


class UnusableDatabase(ServiceError):
    """A file or address is no database that this version can use; it was left as it was."""

    def __init__(self, place: Path | str, what: str, to_do: str) -> None:
        super().__init__(f"{place} {what}; {to_do}")


class Refused(ServiceError):
    """What was sent cannot be right."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("; ".join(fault.sentence for fault in faults))


class Stale(ServiceError):
    """Somebody else changed meanwhile what this would overwrite; each fault says what stands there now."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("; ".join(fault.sentence for fault in faults))


@dataclass(frozen=True, slots=True)
class Question:
    """What is odd at a JSON path, and the figure that was probably meant (None: no guess)."""

    path: str
    message: str
    suggestion: float | None = None


class Asked(ServiceError):
    """What was sent is odd: it is stored once the paths asked about come back as confirmed."""

    def __init__(self, questions: list[Question]) -> None:
        self.questions = questions
        super().__init__("; ".join(Fault(one.path, one.message).sentence for one in questions))


def ask(questions: list[Question], confirmed: list[str]) -> None:
    """Ask what was not confirmed yet.

    Raises:
        Asked: a question's path is not among those confirmed.
    """
    open_ones = [question for question in questions if question.path not in confirmed]
    if open_ones:
        raise Asked(open_ones)
