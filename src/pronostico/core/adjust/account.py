"""Lines of an estimate or an account, with tax: commercial rounding, half a cent up."""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal

_CENT = Decimal("0.01")


@dataclass(frozen=True, slots=True)
class Line:
    """So much of something at a price each, in the workshop's currency; None: the price is not known."""

    what: str
    quantity: float
    unit: str
    each: float | None


@dataclass(frozen=True, slots=True)
class Account:
    """Lines with what each comes to, and the sums; `missing`: lines without a price, in no sum."""

    amounts: tuple[float | None, ...]
    net: float
    tax: float | None
    total: float
    missing: tuple[str, ...]


def _cents(value: Decimal) -> Decimal:
    return value.quantize(_CENT, rounding=ROUND_HALF_UP)


def account(lines: Sequence[Line], tax_percent: float | None) -> Account:
    """What lines come to; each is rounded to cents before it is added, as on paper.

    Args:
        tax_percent: of the net sum; None: no tax is shown.

    >>> account([Line("labour", 0.75, "h", 60.0), Line("gasket", 1, "", 12.345)], 20.0).total
    68.82
    """
    amounts = [
        None if one.each is None else _cents(Decimal(str(one.quantity)) * Decimal(str(one.each)))
        for one in lines
    ]
    net = sum((one for one in amounts if one is not None), Decimal(0))
    tax = None if tax_percent is None else _cents(net * Decimal(str(tax_percent)) / 100)
    return Account(
        tuple(None if one is None else float(one) for one in amounts),
        float(net),
        None if tax is None else float(tax),
        float(net + (tax or Decimal(0))),
        tuple(one.what for one in lines if one.each is None),
    )
