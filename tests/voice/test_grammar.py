"""What can be said with a set, and what it means."""

import pytest

from pronostico.core.units import MM_PER_THOU
from pronostico.voice.grammar import Command, command_of, jsgf, phrases


@pytest.mark.parametrize(
    ("blade_mm", "unit", "said"),
    [
        (0.15, "mm", ["point one five"]),
        (0.30, "mm", ["point three zero"]),
        (0.05, "mm", ["point zero five", "point oh five"]),
        (1.05, "mm", ["one point zero five", "one point oh five"]),
        (0.20, "both", ["point two zero"]),
        (6 * MM_PER_THOU, "thou", ["six"]),
        (14 * MM_PER_THOU, "thou", ["fourteen"]),
        (32 * MM_PER_THOU, "thou", ["thirty two"]),
        (1.5 * MM_PER_THOU, "thou", ["one point five"]),
    ],
)
def test_blades_are_called_by_what_is_printed_on_them(blade_mm, unit, said):
    known = phrases([blade_mm], unit)
    blades = {text: one.blade_mm for text, one in known.items() if one.name == "blade"}
    assert blades == {f"blade {one}": blade_mm for one in said}


def test_no_blade_is_the_beginning_of_another():
    # 'point three' would be taken for the whole of 'point three five'.
    known = phrases([0.03, 0.30, 0.35, 0.05, 0.50, 0.55], "mm")
    assert not [(a, b) for a in known for b in known if a != b and b.startswith(f"{a} ")]


def test_only_what_is_whole_is_a_command():
    known = phrases([0.15], "mm")
    drag = Command("drag", "it drags")
    assert command_of(["feeler", "gauge", "it_drags"], known, prefix_wanted=True) == drag
    assert command_of(["it_drags"], known, prefix_wanted=False) == drag
    assert command_of(["feeler", "gauge", "wont_go"], known, prefix_wanted=True) == Command(
        "no-go", "won't go"
    )
    assert command_of(["it_drags"], known, prefix_wanted=True) is None
    assert command_of(["feeler", "it_drags"], known, prefix_wanted=True) is None
    assert command_of(["feeler", "gauge"], known, prefix_wanted=False) is None
    assert command_of(["feeler", "gauge", "it_drags", "next_valve"], known, prefix_wanted=True) is None


def test_the_prefix_may_be_left_out_only_where_that_is_said():
    assert " = feeler gauge ( it_drags );" in jsgf(["it drags"], prefix_wanted=True)
    assert " = [feeler gauge] ( it_drags );" in jsgf(["it drags"], prefix_wanted=False)
