import pytest
from hypothesis import given
from hypothesis import strategies as st

from pronostico.core.errors import ImpossibleValue
from pronostico.core.head import valves_of_head


def test_the_order_along_the_head_is_the_place_of_each_valve():
    valves = valves_of_head([[1, 2, 3, 4]], intakes=1, exhausts=1, along=["E I I E E I I E"])
    assert [valve.id for valve in valves] == ["1E", "1I", "2I", "2E", "3E", "3I", "4I", "4E"]
    assert [valve.place for valve in valves] == list(range(1, 9))


def test_each_bank_has_an_order_and_places_of_its_own():
    valves = valves_of_head([[1, 3], [2, 4]], intakes=1, exhausts=1, along=["I E I E", "EIEI"])
    assert [(valve.id, valve.place) for valve in valves][4:] == [("2E", 1), ("2I", 2), ("4E", 3), ("4I", 4)]


def test_several_of_a_side_are_reported_apart_by_a_letter():
    ids = [valve.id for valve in valves_of_head([[1]], intakes=3, exhausts=2)]
    assert ids == ["1Ia", "1Ib", "1Ic", "1Ea", "1Eb"]


@given(st.integers(1, 12), st.integers(1, 4), st.integers(1, 4))
def test_every_cylinder_has_its_valves_once_each(cylinders, intakes, exhausts):
    valves = valves_of_head([list(range(1, cylinders + 1))], intakes=intakes, exhausts=exhausts)
    assert len({valve.id for valve in valves}) == len(valves) == cylinders * (intakes + exhausts)
    for cylinder in range(1, cylinders + 1):
        sides = [valve.side for valve in valves if valve.cylinder == cylinder]
        assert (sides.count("intake"), sides.count("exhaust")) == (intakes, exhausts)


@pytest.mark.parametrize(
    ("banks", "along", "says"),
    [
        ([[1, 2]], ["E I I"], "3 valves, but must be 4: 2 for each of the cylinders 1, 2"),
        ([[1, 2]], ["E I X E"], "I and E alone, not 'X'"),
        ([[1, 2]], ["I I E E"], "at cylinder 1 is 2 intake, but must be 1"),
        ([[1, 1]], None, "each named once"),
        ([[]], None, "each named once"),
        ([[1], [2]], ["I E"], "one per bank: 2"),
    ],
)
def test_what_does_not_fit_is_reported(banks, along, says):
    with pytest.raises(ImpossibleValue, match=says):
        valves_of_head(banks, intakes=1, exhausts=1, along=along)


@pytest.mark.parametrize("count", [0, 5])
def test_no_cylinder_has_so_many_valves(count):
    with pytest.raises(ImpossibleValue, match="exhaust valves per cylinder"):
        valves_of_head([[1]], intakes=1, exhausts=count)
