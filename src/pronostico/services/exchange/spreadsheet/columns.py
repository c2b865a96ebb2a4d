"""What the columns of a spreadsheet are: recognised by their heads, or chosen by hand."""

import re
import unicodedata
from collections.abc import Container, Mapping
from typing import Literal, get_args

Role = Literal[
    "valve",
    "cylinder",
    "side",
    "date",
    "usage",
    "visit",
    "phase",
    "went",
    "refused",
    "felt",
    "clearance",
    "left",
    "target",
    "shim_before",
    "shim",
    "temperature",
    "engine",
]
ROLES: tuple[Role, ...] = get_args(Role)
ROLE_WORDS: dict[Role, str] = {
    "valve": "valve",
    "cylinder": "cylinder",
    "side": "intake or exhaust",
    "date": "date",
    "usage": "usage (running total)",
    "visit": "visit",
    "phase": "found or left",
    "went": "blade that went in",
    "refused": "blade that would not go",
    "felt": "how it felt",
    "clearance": "clearance, one figure or two",
    "left": "clearance as left",
    "target": "set to",
    "shim_before": "shim found",
    "shim": "shim fitted",
    "temperature": "temperature",
    "engine": "engine",
}
# Whole words of a head, small letters without accents; the first role that has one of them takes the column.
# English, German, Italian, French, Spanish and Dutch, as workshops write them.
_WORDS: tuple[tuple[Role, tuple[str, ...]], ...] = (
    (
        "refused",
        (
            "did not go",
            "did not",
            "didnt go",
            "not go",
            "no go",
            "nogo",
            "refused",
            "refuses",
            "max blade",
            "geht nicht",
            "non passa",
            "ne passe pas",
            "no pasa",
            "gaat niet",
        ),
    ),
    (
        "went",
        ("went", "goes", "go", "passes", "passed", "min blade", "geht", "passa", "passe", "pasa", "gaat"),
    ),
    ("felt", ("felt", "feel", "drag", "gefuehl", "sensazione")),
    (
        "phase",
        ("phase", "found or left", "found left", "before after", "state", "vorher nachher", "prima dopo"),
    ),
    ("shim_before", ("shim before", "shim found", "old shim", "shim alt", "shim from")),
    (
        "shim",
        (
            "shim",
            "shim after",
            "shim fitted",
            "new shim",
            "shim to",
            "shim neu",
            "scheibe",
            "plaettchen",
            "pastiglia",
            "pasticca",
            "spessore",
            "pastille",
            "pastilla",
        ),
    ),
    ("target", ("set to", "target", "soll", "sollwert", "eingestellt auf", "regolato a", "regle a")),
    ("left", ("as left", "left", "after setting", "nachher", "dopo", "apres", "despues", "na afstellen")),
    ("date", ("date", "day", "when", "datum", "tag", "data", "giorno", "jour", "fecha", "dia")),
    (
        "usage",
        (
            "usage",
            "hours",
            "hour",
            "hrs",
            "h",
            "km",
            "mileage",
            "miles",
            "mi",
            "odometer",
            "odo",
            "clock",
            "meter",
            "distance",
            "std",
            "stunden",
            "betriebsstunden",
            "bstd",
            "km stand",
            "kilometerstand",
            "kilometer",
            "ore",
            "ore di lavoro",
            "contaore",
            "chilometri",
            "heures",
            "compteur",
            "kilometrage",
            "horas",
            "kilometraje",
            "uren",
            "urenstand",
            "kilometers",
        ),
    ),
    ("temperature", ("temperature", "temp", "deg", "temperatur", "temperatura")),
    (
        "engine",
        ("engine", "machine", "unit no", "vehicle", "motor", "maschine", "motore", "moteur", "motor no"),
    ),
    ("visit", ("visit", "check", "check no", "service", "pruefung", "controllo", "controle", "revision")),
    ("cylinder", ("cylinder", "cyl", "cyl no", "zylinder", "zyl", "cilindro", "cil", "cylindre", "cilinder")),
    (
        "side",
        ("side", "in ex", "intake exhaust", "type", "seite", "ein aus", "lato", "cote", "lado", "zijde"),
    ),
    ("valve", ("valve", "valve no", "ventil", "valvola", "soupape", "valvula", "klep")),
    (
        "clearance",
        (
            "clearance",
            "gap",
            "lash",
            "reading",
            "measured",
            "value",
            "ventilspiel",
            "spiel",
            "spalt",
            "luft",
            "gioco",
            "jeu",
            "juego",
            "holgura",
            "speling",
            "klepspeling",
            "as found",
            "gefunden",
            "vorher",
        ),
    ),
)


def _without_accents(text: str) -> str:
    text = (
        text.lower()
        .replace("\u00e4", "ae")
        .replace("\u00f6", "oe")
        .replace("\u00fc", "ue")
        .replace("\u00df", "ss")
    )
    return "".join(
        letter for letter in unicodedata.normalize("NFKD", text) if not unicodedata.combining(letter)
    )


def plain_head(name: str, *, digits: bool = False) -> str:
    """A head without units in brackets, accents and marks: only what names the column.

    Args:
        digits: figures name it too: '1E', 'cyl 2 exhaust'.
    """
    name = re.sub(r"\([^()]*\)|\[[^\[\]]*\]", " ", _without_accents(name).replace("'", ""))
    name = re.sub(r"_(mm|thou|in|c|f|h)\b", " ", name)
    return " ".join(re.findall(r"[a-z0-9]+" if digits else r"[a-z]+", name))


def in_hundredths(name: str) -> bool:
    """Whether a head says that its figures are hundredths of a millimetre: 'Spiel (0.01 mm)', '[1/100]'."""
    return (
        re.search(r"0[.,]01\s*mm|1\s*/\s*100|hundert|hundredth|centesim|centieme", _without_accents(name))
        is not None
    )


def usage_unit_of(name: str) -> Literal["h", "km", "mi"] | None:
    """The unit that the head of a running total names; None where it does not."""
    words = set(re.findall(r"[a-z]+", _without_accents(name)))
    units: tuple[tuple[Literal["h", "km", "mi"], frozenset[str]], ...] = (
        ("mi", frozenset(("mi", "mile", "miles"))),
        ("km", frozenset(("km", "kilometer", "kilometers", "chilometri", "kilometerstand", "kilometraje"))),
        (
            "h",
            frozenset(
                (
                    "h",
                    "hrs",
                    "hour",
                    "hours",
                    "std",
                    "stunden",
                    "bstd",
                    "betriebsstunden",
                    "ore",
                    "contaore",
                    "heures",
                    "horas",
                    "uren",
                )
            ),
        ),
    )
    named = [unit for unit, marks in units if marks & words]
    return named[0] if len(named) == 1 else None


def _role_of(name: str) -> Role | None:
    plain = plain_head(name)
    # A head that is the word comes before one that only has it.
    for role, words in _WORDS:
        if plain in words:
            return role
    for role, words in _WORDS:
        if any(re.search(rf"\b{re.escape(word)}\b", plain) for word in words if len(word) > 2):
            return role
    return None


def recognised(head: tuple[str, ...], empty: Container[int] = ()) -> dict[Role, int]:
    """The column of each role that a head tells of; of two that tell of the same the first.

    Args:
        empty: columns in which nothing stands.
    """
    found: dict[Role, int] = {}
    for index, name in enumerate(head):
        role = _role_of(name)
        if role is not None and index not in empty:
            found.setdefault(role, index)
    return found


def missing(columns: Mapping[Role, int]) -> list[str]:
    """What has to be among the columns and is not, in words."""
    lacking = []
    if "valve" not in columns and not ("cylinder" in columns and "side" in columns):
        lacking.append("which valve (a column of valves, or one of cylinders and one of sides)")
    lacking += [ROLE_WORDS[role] for role in ("date", "usage") if role not in columns]
    if not {"went", "refused", "clearance", "left", "target", "shim"} & set(columns):
        lacking.append("what was read (a blade that went in, one that would not, or a single figure)")
    return lacking
