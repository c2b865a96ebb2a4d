"""The knowledge files in use: the workshop's own where they are valid, else the built-in ones.

A mechanic may put a changed copy of any of these files into a folder of their own. They are used together or
not at all: an application that starts with the knowledge that ships, and says which line is wrong, is of more
use than one that does not start.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from pronostico.core.causes.model import Knowledge
from pronostico.core.causes.next_tests import TestKind
from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge.closing import Closing, parse_closing
from pronostico.knowledge.entries import shipped_text
from pronostico.knowledge.first_looks import FirstLook, parse_first_looks
from pronostico.knowledge.loader import parse_knowledge
from pronostico.knowledge.tests import parse_tests
from pronostico.limits import KNOWLEDGE_BYTES, MEGABYTE
from pronostico.settings import Settings

FILES = ("findings.toml", "causes.toml", "tests.toml", "first_looks.toml", "closing.toml")


@dataclass(frozen=True, slots=True)
class Source:
    """Where the knowledge comes from: the workshop's own files in use, or why they are not used."""

    own_files: tuple[str, ...] = ()
    fault: str | None = None


@dataclass(frozen=True, slots=True)
class _InUse:
    texts: dict[str, str]
    knowledge: Knowledge
    tests: tuple[TestKind, ...]
    first_looks: tuple[FirstLook, ...]
    closing: Closing
    source: Source


def _parsed(text_of: Callable[[str], str], source: Source) -> _InUse:
    texts = {name: text_of(name) for name in FILES}
    knowledge = parse_knowledge(texts["findings.toml"], texts["causes.toml"])
    complaints = frozenset(one.id for one in knowledge.findings.values() if one.group == "complaint")
    return _InUse(
        texts,
        knowledge,
        parse_tests(texts["tests.toml"], tuple(knowledge.findings)),
        parse_first_looks(texts["first_looks.toml"], complaints),
        parse_closing(texts["closing.toml"], complaints),
        source,
    )


def _read(path: Path) -> str:
    try:
        if path.stat().st_size > KNOWLEDGE_BYTES:
            raise KnowledgeFault(f"{path.name}: larger than {KNOWLEDGE_BYTES // MEGABYTE} MB")
        return path.read_text("utf-8")
    except UnicodeDecodeError as error:
        raise KnowledgeFault(f"{path.name}: not UTF-8 at byte {error.start}") from error
    except OSError as error:
        raise KnowledgeFault(f"{path.name}: {error.strerror}") from error


def knowledge_from(folder: Path) -> _InUse:
    """The knowledge with a folder's files in place of those that ship, or without them if they are faulty."""
    own = tuple(name for name in FILES if (folder / name).is_file())
    if not own:
        return _parsed(shipped_text, Source())
    try:
        return _parsed(lambda name: _read(folder / name) if name in own else shipped_text(name), Source(own))
    except KnowledgeFault as fault:
        return _parsed(shipped_text, Source(fault=str(fault)))


@cache
def _in_use() -> _InUse:
    # Read once: what changes while the application runs would make one page contradict the next.
    return knowledge_from(Settings().knowledge)


def load_knowledge() -> Knowledge:
    """Findings and causes."""
    return _in_use().knowledge


def load_tests() -> tuple[TestKind, ...]:
    """The tests."""
    return _in_use().tests


def load_first_looks() -> tuple[FirstLook, ...]:
    """What is cheaper to look at first, the quickest first."""
    return _in_use().first_looks


def load_closing() -> Closing:
    """Closing up and proving."""
    return _in_use().closing


def knowledge_source() -> Source:
    """Where it is from."""
    return _in_use().source


def knowledge_texts() -> list[str]:
    """The text of what weighs causes: another text gives other results."""
    return [_in_use().texts[name] for name in ("findings.toml", "causes.toml")]
