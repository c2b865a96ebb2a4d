"""What is cheaper to look at than a valve, complaint by complaint."""

from pydantic import Field

from pronostico.core.engine import Starting
from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.entries import Entry, parse_file


class FirstLook(Entry):
    """One thing to look at: what, how long it takes in minutes, for which complaints, on which engines."""

    id: str
    label: str
    what: str
    minutes: float = Field(gt=0)
    complaints: tuple[str, ...] = Field(min_length=1)
    not_with_fuel: tuple[str, ...] = ()
    only_with_starting: tuple[Starting, ...] = ()
    not_with_starting: tuple[Starting, ...] = ()


class _File(Entry):
    look: tuple[FirstLook, ...]


def parse_first_looks(text: str, complaints: frozenset[str]) -> tuple[FirstLook, ...]:
    """The looks of a file, quickest first.

    Raises:
        KnowledgeFault: a check is of a complaint that there is not, or a complaint has no look.
    """
    checks = parse_file("first_looks.toml", text, _File).look
    for look in checks:
        unknown = sorted(set(look.complaints) - complaints)
        if unknown:
            raise KnowledgeFault(f"first_looks.toml: {look.id}: there is no complaint {unknown[0]}")
    bare = sorted(complaints - {one for look in checks for one in look.complaints})
    if bare:
        raise KnowledgeFault(f"first_looks.toml: no quick check is listed for {', '.join(bare)}")
    return tuple(sorted(checks, key=lambda look: look.minutes))
