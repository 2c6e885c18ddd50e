"""How large a sample has to be, and what one of a given size can tell."""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy import stats

from skavo.core.errors import DataError

_MOST = 10**9


def _within(name: str, value: float, low: float, high: float, *, high_too: bool = False) -> None:
    if not (low < value < high or (high_too and value == high)):
        raise DataError("wrong_size", f"The {name} is {value:g}; it lies between {low:g} and {high:g}.")


def _positive(name: str, value: float) -> None:
    if not (value > 0 and math.isfinite(value)):
        raise DataError("wrong_size", f"The {name} is {value:g}; it has to be more than 0.")


@dataclass(frozen=True)
class Setting:
    """What a size depends on beside the figure that is wanted.

    `confidence` is between 0 and 1; `population` how many there are, None for so many that it makes no difference;
    `design_effect` by how much the design widens a variance (1 for a simple random sample); `response` the share of
    those drawn who are expected to answer.
    """

    confidence: float = 0.95
    population: int | None = None
    design_effect: float = 1.0
    response: float = 1.0

    def __post_init__(self) -> None:
        _within("confidence", self.confidence, 0, 1)
        _within("response", self.response, 0, 1, high_too=True)
        if self.population is not None and not 1 <= self.population <= _MOST:
            raise DataError(
                "wrong_size", f"A population of {self.population:,} cannot be: write 1 or more, or leave it out."
            )
        if not 0.1 <= self.design_effect <= 100:
            raise DataError(
                "wrong_size", f"A design effect of {self.design_effect:g} cannot be; most lie between 1 and 5."
            )

    @property
    def z(self) -> float:
        return float(stats.norm.ppf(0.5 + self.confidence / 2))


@dataclass(frozen=True)
class Size:
    """`answers` are needed for the figure; `drawn` have to be drawn for so many answers."""

    answers: int
    drawn: int


def size_for_share(margin: float, share: float = 0.5, setting: Setting = Setting()) -> Size:
    """How many for a share within ± `margin`, where it may be about `share` (0.5 is the worst that can be).

    Source: W. G. Cochran, Sampling Techniques, 3rd ed. (1977), equations 4.1 and 4.2: n0 = z² p q / d², and
    n0 / (1 + (n0 - 1) / N) of a finite population.

    >>> size_for_share(0.05).answers
    385
    """
    _within("margin", margin, 0, 1)
    _within("share", share, 0, 1)
    return _size(setting.z**2 * share * (1 - share) / margin**2, setting)


def size_for_mean(margin: float, deviation: float, setting: Setting = Setting()) -> Size:
    """How many for a mean within ± `margin`, both it and the standard `deviation` in the unit of the answer.

    Source: Cochran (1977), equation 4.6: n0 = (z S / d)².
    """
    _positive("margin", margin)
    _positive("deviation", deviation)
    return _size((setting.z * deviation / margin) ** 2, setting, less_one=False)


def size_for_difference(one: float, other: float, power: float = 0.8, setting: Setting = Setting()) -> Size:
    """How many in each of two groups, to find a difference between two shares with `power`, two-sided.

    Source: J. L. Fleiss, Statistical Methods for Rates and Proportions, 2nd ed. (1981), equation 3.14, without
    continuity correction. The population is not counted in: a difference is asked of what makes groups differ.
    """
    for name, share in (("share", one), ("other share", other)):
        _within(name, share, 0, 1)
    _within("power", power, 0, 1)
    if one == other:
        raise DataError(
            "wrong_size", "Two equal shares have no difference to find. Write the two that you want to tell apart."
        )
    middle = (one + other) / 2
    z_power = float(stats.norm.ppf(power))
    spread = setting.z * math.sqrt(2 * middle * (1 - middle)) + z_power * math.sqrt(
        one * (1 - one) + other * (1 - other)
    )
    return _size(
        (spread / (one - other)) ** 2, Setting(setting.confidence, None, setting.design_effect, setting.response)
    )


def margin_of_share(answers: int, share: float = 0.5, setting: Setting = Setting()) -> float:
    """What so many answers can tell of a share: half the width of its interval (Cochran 1977, equation 3.8)."""
    _within("share", share, 0, 1)
    if answers < 2:
        raise DataError("wrong_size", "Of fewer than 2 answers no margin can be told.")
    variance = setting.design_effect * share * (1 - share) / answers
    if setting.population is not None:
        if answers > setting.population:
            raise DataError("wrong_size", f"{answers:,} answers of a population of {setting.population:,} cannot be.")
        variance *= (setting.population - answers) / max(1, setting.population - 1)
    return setting.z * math.sqrt(variance)


def _size(infinite: float, setting: Setting, *, less_one: bool = True) -> Size:
    wanted = infinite * setting.design_effect
    if setting.population is not None:
        wanted = wanted / (1 + (wanted - less_one) / setting.population)
    if wanted > _MOST:
        raise DataError("wrong_size", "That needs more than a thousand million answers. Ask for less.")
    # A hair above a whole number is that number, and not one more.
    answers = max(1, math.ceil(round(wanted, 9)))
    if setting.population is not None:
        answers = min(answers, setting.population)
    drawn = math.ceil(round(answers / setting.response, 9))
    return Size(answers, drawn if setting.population is None else min(drawn, setting.population))
