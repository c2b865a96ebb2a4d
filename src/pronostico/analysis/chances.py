"""Probabilities and weights of evidence in words, with the figures behind them."""

# From here on a rounded percentage would read as certainty.
_NEARLY_CERTAIN = 0.995
# How likely, in words: the least probability of each.
_CHANCES = (
    (0.98, "almost certain"),
    (0.9, "very likely"),
    (0.55, "likely"),
    (0.45, "about even"),
    (0.2, "possible"),
    (0.05, "unlikely"),
    (0.0, "very unlikely"),
)
_LARGEST_FACTOR = 9999.0


def percent(probability: float) -> str:
    """A probability as a percentage, never 0 or 100.

    >>> percent(0.884), percent(0.9999), percent(0.0)
    ('88 %', 'over 99 %', 'under 1 %')
    """
    if probability >= _NEARLY_CERTAIN:
        return "over 99 %"
    if probability < 1.0 - _NEARLY_CERTAIN:
        return "under 1 %"
    return f"{probability:.0%}".replace("%", " %")


def chance(probability: float) -> str:
    """A probability in words with the figure behind it.

    >>> chance(0.94)
    'very likely (94 %)'
    """
    word = next(word for least, word in _CHANCES if probability >= least)
    return f"{word} ({percent(probability)})"


def factor(decibans: float) -> str:
    """Weight of evidence as a factor: how many times likelier (×) or less likely (÷) it makes a cause.

    >>> factor(10.0), factor(-3.0103)
    ('×10', '÷2.0')
    """
    times = 10.0 ** (abs(decibans) / 10.0)
    sign = "÷" if decibans < 0.0 else "×"
    if times > _LARGEST_FACTOR:
        return f"over {sign}{_LARGEST_FACTOR:.0f}"
    return f"{sign}{times:.1f}" if times < 9.95 else f"{sign}{times:.0f}"


def settles(gain_bits: float) -> str:
    """How much a test is expected to settle, from its expected information in bits."""
    return "much" if gain_bits >= 0.5 else "something" if gain_bits >= 0.15 else "little"
