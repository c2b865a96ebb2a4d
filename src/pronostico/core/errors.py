"""Errors of the core: impossible values, unknown valves, faulty knowledge.

CoreError (a ValueError)
|-- ImpossibleValue      a quantity outside what it can be; names quantity, value and what is allowed
|-- UnknownValve         a valve that the engine does not have
`-- KnowledgeFault       a knowledge entry that contradicts itself or the others
"""


class CoreError(ValueError):
    """Base of every fault that the core reports."""


class ImpossibleValue(CoreError):
    """A quantity has a value that it cannot have."""

    def __init__(self, quantity: str, value: object, allowed: str) -> None:
        self.quantity = quantity
        self.value = value
        self.allowed = allowed
        super().__init__(f"{quantity} is {value}, but must be {allowed}")


class UnknownValve(CoreError):
    """A valve was named that the engine does not have."""

    def __init__(self, valve: str, known: tuple[str, ...]) -> None:
        self.valve = valve
        self.known = known
        super().__init__(f"there is no valve {valve!r} on this engine; it has {', '.join(known)}")


class KnowledgeFault(CoreError):
    """The knowledge of findings and causes cannot be used as they are.

    `kind`, `entry`, `finding`: the entry that is wrong, and which link of it, where that is known.
    """

    def __init__(
        self, message: str, kind: str | None = None, entry: str | None = None, finding: str | None = None
    ) -> None:
        super().__init__(message)
        self.kind, self.entry, self.finding = kind, entry, finding
