"""The tests: what each costs and which findings it can show, read from their file."""

from typing import Annotated, Literal

from pydantic import Field

from pronostico.core.causes.next_tests import Said, TestKind, check_tests
from pronostico.core.engine import Starting
from pronostico.knowledge.entries import Entry, parse_file

Share = Annotated[float, Field(gt=0, lt=1)]


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
    said: Annotated[dict[str, tuple[Share, Share]], Field(default_factory=dict)]


class _File(Entry):
    test: tuple[_Test, ...]


def _kind(entry: _Test) -> TestKind:
    said = tuple(Said(finding, *shares) for finding, shares in entry.said.items())
    return TestKind(**{**entry.model_dump(), "said": said})


def parse_tests(text: str, findings: tuple[str, ...]) -> tuple[TestKind, ...]:
    """The tests of a file.

    Raises:
        KnowledgeFault: it is not TOML, an entry is not of the expected shape, or names what is not there.
    """
    tests = tuple(_kind(entry) for entry in parse_file("tests.toml", text, _File).test)
    check_tests(tests, findings)
    return tests
