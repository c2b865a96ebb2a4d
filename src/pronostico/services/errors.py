"""Why a service refuses.

ServiceError
|-- NotThere         something was named that does not exist
|-- AlreadyThere     something new would take the place of something else
`-- Refused          what was sent cannot be right; every fault with its JSON path
"""

from pronostico.record.faults import Fault


class ServiceError(Exception):
    """Base of every refusal of a service."""


class NotThere(ServiceError):
    """Something was named that does not exist."""

    def __init__(self, what: str, name: str) -> None:
        super().__init__(f"there is no {what} '{name}'")


class AlreadyThere(ServiceError):
    """Something new would take the place of something else."""


class Refused(ServiceError):
    """What was sent cannot be right."""

    def __init__(self, faults: list[Fault]) -> None:
        self.faults = faults
        super().__init__("; ".join(str(fault) for fault in faults))
