"""What is said in another language: whole sentences, patterns with places, and what is left alone."""

import re
import tomllib
from importlib.resources import files
from pathlib import Path

import pytest
from babel.messages.pofile import read_po
from pydantic import BaseModel, TypeAdapter

from pronostico import language
from pronostico.analysis.adjustment_words import turn
from pronostico.analysis.instrument_kinds import kinds_out
from pronostico.language import SOURCE, Text, catalogue, catalogue_of, speaking, translated, wanted
from pronostico.services.people.change_words import CHANGES

ROOT = Path(__file__).parents[2]
CATALOGUES = [
    ROOT / "src/pronostico/language/it.po",
    ROOT / "frontend/src/locales/it.po",
]


class Said(BaseModel):
    what: Text
    perhaps: Text | None = None
    by: str
    more: list[Text] = []


KNOWN = catalogue_of(
    {
        "out of spec": "fuori tolleranza",
        "{0} is {1}": "{0} è {1}",
        "{0} of {1} valves": "di {1} valvole {0}",
        "is {got}, must be {ge:g}{unit} or more": "è {got}, almeno {ge:g}{unit}",
        "It is cold.": "È freddo.",
    }
)


class TestTheWordsOfACatalogue:
    @pytest.fixture(autouse=True)
    def _known(self, monkeypatch):
        language._kept.cache_clear()
        monkeypatch.setattr("pronostico.language.catalogue", lambda language: KNOWN)
        yield
        language._kept.cache_clear()

    @pytest.mark.parametrize(
        ("said", "meant"),
        [
            ("out of spec", "fuori tolleranza"),
            ("3E is out of spec", "3E è fuori tolleranza"),
            ("2 of 8 valves", "di 8 valvole 2"),
            ("is 2, must be 3 mm or more", "è 2, almeno 3 mm"),
            ("It is cold. 3E is out of spec", "È freddo. 3E è fuori tolleranza"),
            ("out of spec, 3E, out of spec", "fuori tolleranza, 3E, fuori tolleranza"),
            ("out of spec, by hand", "out of spec, by hand"),
            ("0.25 + 0.08 mm", "0,25 + 0,08 mm"),
            ("version 1.2.3 of 2026-12-01", "version 1.2.3 of 2026-12-01"),
            ("nothing known", "nothing known"),
            ("", ""),
        ],
    )
    def test_are_found(self, said, meant):
        assert translated("it", said) == meant

    def test_only_what_the_server_says_changes_and_only_as_it_leaves(self):
        one = Said(what="out of spec", by="out of spec", more=["It is cold."])
        with speaking("it"):
            assert one.model_dump(mode="json") == {
                "what": "fuori tolleranza",
                "perhaps": None,
                "by": "out of spec",
                "more": ["È freddo."],
            }
            assert one.model_dump()["what"] == one.what == "out of spec"
            with speaking(SOURCE):
                assert "out of spec" in one.model_dump_json()
        assert one.model_dump(mode="json")["what"] == "out of spec"

    def test_the_schema_is_that_of_text(self):
        assert TypeAdapter(Text).json_schema(mode="serialization") == {"type": "string"}


@pytest.mark.parametrize(
    ("header", "language"),
    [
        (None, "en"),
        ("", "en"),
        ("it", "it"),
        ("it-IT,it;q=0.9,en;q=0.8", "it"),
        ("xx, it", "it"),
        ("en-GB, it", "en"),
        ("../../etc, ..", "en"),
        ("*", "en"),
        ("it" * 10_000, "it"),
    ],
)
def test_the_first_language_that_there_is_is_taken(header, language):
    assert wanted(header) == language


def test_what_is_very_long_is_left_alone_unless_it_is_a_sentence_of_the_catalogue():
    pasted = "0.1 mm; as thou it is 3 mm " * 4000
    assert translated("it", pasted) == pasted
    known = catalogue("it")
    assert known is not None
    longest = max(known.sentences, key=len)
    assert translated("it", longest) == known.sentences[longest]


def test_there_is_no_catalogue_outside_its_folder():
    assert catalogue("xx") is None and catalogue("..") is None and catalogue("it/../it") is None


@pytest.mark.parametrize("path", CATALOGUES, ids=lambda path: path.parts[-2])
def test_every_message_is_translated_with_all_of_its_places(path):
    with path.open("rb") as stream:
        messages = [one for one in read_po(stream, locale="it") if one.id]
    assert len(messages) > 1000
    assert [one.id for one in messages if not one.string] == []

    def places(text):
        # A form for one may do without the number that a form for many has.
        return {
            place for place in re.findall(r"\{\w+|</?\d+/?>", text) if not re.match(r"\{[A-Z]?[a-z]+$", place)
        }

    wrong = [one.id for one in messages if places(one.id) != places(one.string)]
    assert wrong == []


TEXTS = {"label", "help", "advice", "caution", "what", "text", "task", "teaches", "title", "why", "leak_why"}


def _texts(found):
    if isinstance(found, dict):
        for key, value in found.items():
            if key in TEXTS and isinstance(value, str):
                yield value
            yield from _texts(value)
    elif isinstance(found, list):
        for value in found:
            yield from _texts(value)


@pytest.mark.parametrize(
    "name",
    ["findings", "causes", "tests", "first_looks", "closing", "cautions", "figures", "practice", "patterns"],
)
def test_all_that_is_known_of_the_trade_is_there_in_italian(name):
    text = files("pronostico.knowledge").joinpath(f"{name}.toml").read_text("utf-8")
    known = catalogue("it")
    assert known is not None
    texts = [" ".join(one.split()) for one in _texts(tomllib.loads(text))]
    assert texts
    assert [one for one in texts if one not in known.sentences and " " in one] == []


def test_instruments_and_turns_are_there_in_italian():
    for fuel in ("petrol", "diesel"):
        for kind in kinds_out((1, 2), fuel):
            for text in (kind.label, kind.how, kind.caution, *(one.label for one in kind.channels)):
                assert translated("it", text) != text
    assert translated("it", turn(-122.4)) == "122° in senso antiorario, circa 1/3 di giro"
    assert translated("it", turn(36.0)) == "36° in senso orario, tra 1/12 e 1/8 di giro"


def test_what_each_change_is_called_is_said_in_italian():
    known = catalogue("it")
    assert [words for words in CHANGES.values() if words not in known.sentences] == []
