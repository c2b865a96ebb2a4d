import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.errors import ImpossibleValue
from pronostico.core.gauge.blade_list import parse_blades


@pytest.mark.parametrize(
    ("text", "unit", "blades"),
    [
        ("0.05 0.10 0.15", "mm", (0.05, 0.10, 0.15)),
        ("0.15, 0.05; 0.10", "mm", (0.05, 0.10, 0.15)),
        ("0,05 0,10", "mm", (0.05, 0.10)),
        (".04 .05", "mm", (0.04, 0.05)),
        ("0.05 to 0.50 by 0.05", "mm", tuple(round(0.05 * i, 2) for i in range(1, 11))),
        ("0.04, 0.05 to 0.15 by 0.05 0.40", "mm", (0.04, 0.05, 0.10, 0.15, 0.40)),
        ("0.10 0.10 0.1", "mm", (0.10,)),
        # By definition of the inch: 0.0254 mm to the thou.
        ("2 to 4 by 1", "thou", (0.0508, 0.0762, 0.1016)),
        ("1.5", "thou", (0.0381,)),
    ],
)
def test_sets_as_they_are_said(text, unit, blades):
    assert parse_blades(text, unit) == pytest.approx(blades)


@pytest.mark.parametrize(
    ("text", "unit", "says"),
    [
        ("", "mm", "feeler gauge set is empty"),
        (" , ", "mm", "feeler gauge set is empty"),
        ("0.05 thick", "mm", "'thick'"),
        ("-0.05", "mm", "'-0.05'"),
        ("0", "mm", "over 0"),
        ("5 6 7", "mm", "is the unit right"),
        ("0.50 to 0.05 by 0.05", "mm", "upwards"),
        ("0.05 to 0.50 by 0", "mm", "over 0"),
        ("0.05 to 3 by 0.001", "mm", "is the step right"),
    ],
)
def test_what_is_no_set_is_reported(text, unit, says):
    with pytest.raises(ImpossibleValue, match=says):
        parse_blades(text, unit)


@given(st.lists(st.integers(1, 300), min_size=1, max_size=30, unique=True))
def test_any_list_of_hundredths_comes_back_in_order(hundredths):
    text = " ".join(f"{h / 100:.2f}" for h in hundredths)
    assert parse_blades(text, "mm") == pytest.approx([h / 100 for h in sorted(hundredths)])


def test_blades_that_carry_both_prints_are_taken_by_their_mm():
    assert parse_blades("0.038/1.5 0.152/6, 0.25/10", "both") == (0.038, 0.152, 0.25)


@pytest.mark.parametrize(
    ("text", "says"),
    [("0.15", "mm/thou"), ("0.15/8", "8 thou is 0.203 mm"), ("0.05 to 0.5 by 0.05", "mm/thou")],
)
def test_both_prints_must_be_there_and_agree(text, says):
    with pytest.raises(ImpossibleValue, match=says):
        parse_blades(text, "both")
