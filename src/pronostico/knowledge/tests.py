"""The tests: what each costs and which findings it can show, read from their file."""

from typing import Literal

from pronostico.core.causes.next_tests import TestKind, check_tests
from pronostico.core.engine import Starting
from pronostico.knowledge.entries import Entry, parse_file


class _Test(Entry):
    id: str
    label: str
    help: str
    minutes: float
    per: Literal["engine", "cylinder", "valve"]
    shows: tuple[str, ...]
    cover: Literal["on", "off"] | None = None
    cranks: bool = False
    runs: bool = False
    after: str | None = None
    only_with_adjustment: tuple[str, ...] = ()
    not_with_adjustment: tuple[str, ...] = ()
    not_with_fuel: tuple[str, ...] = ()
    only_with_starting: tuple[Starting, ...] = ()
    not_with_starting: tuple[Starting, ...] = ()


class _File(Entry):
    test: tuple[_Test, ...]


def parse_tests(text: str, findings: tuple[str, ...]) -> tuple[TestKind, ...]:
    """The tests of a file.

    Raises:
        KnowledgeFault: it is not TOML, an entry is not of the expected shape, or names what is not there.
    """
    tests = tuple(TestKind(**entry.model_dump()) for entry in parse_file("tests.toml", text, _File).test)
    check_tests(tests, findings)
    return tests
