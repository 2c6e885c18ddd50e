"""Sizes, shares and rates against published values. Where it says so, a value is written down from memory."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest

from skavo.core.sampling.allocation import allocate
from skavo.core.sampling.draw import draw_by_size
from skavo.core.sampling.rates import Outcomes, outcome_rates
from skavo.core.sampling.sizes import Setting, margin_of_share, size_for_difference, size_for_mean, size_for_share


def test_cochran_385_for_five_points() -> None:
    """Cochran 1977, section 4.4: a share within ± 5 points at 95 %, when it may be one half."""
    assert size_for_share(0.05).answers == 385
    assert margin_of_share(385) == pytest.approx(0.05, abs=1e-4)


@pytest.mark.parametrize(
    ("population", "size"),
    [
        (10, 10), (50, 44), (100, 80), (200, 132), (300, 169), (400, 196), (500, 217), (1000, 278), (2000, 322),
        (3000, 341), (5000, 357), (10000, 370), (50000, 381), (75000, 382), (1000000, 384),
    ],
)  # fmt: skip
def test_krejcie_and_morgan(population: int, size: int) -> None:
    """R. V. Krejcie and D. W. Morgan, “Determining sample size for research activities”, Educational and Psychological
    Measurement 30 (1970), table 1, from memory. They round to the nearest, we up: one more is in order."""
    found = size_for_share(0.05, setting=Setting(population=population)).answers
    assert size <= found <= size + 1


def test_a_mean_within_a_margin() -> None:
    """Common practice, by the formula of Cochran 1977, 4.6: (1.96 · 15 / 2)² = 216.1."""
    assert size_for_mean(2, 15).answers == 217


def test_two_shares_told_apart() -> None:
    """Fleiss 1981, table A.3, without continuity correction: 0.25 against 0.40 at 5 % and 80 % needs about 152 in each
    (from memory; the table's own figures carry the correction)."""
    assert size_for_difference(0.25, 0.40).answers == pytest.approx(152, abs=1)


def test_neyman_of_a_textbook() -> None:
    """R. L. Scheaffer, W. Mendenhall and L. Ott, Elementary Survey Sampling, chapter 5: households of two towns and the
    country round them, N = 155, 62, 93, deviations 5, 15, 10; of 57 they draw 17, 20, 20 (from memory)."""
    assert allocate(57, [155, 62, 93], "neyman", [5, 15, 10]) == [17, 20, 20]
    assert allocate(40, [155, 62, 93], "proportional") == [20, 8, 12]


@pytest.mark.filterwarnings("ignore::FutureWarning")
def test_inclusion_probabilities_are_those_of_samplics() -> None:
    """samplics 0.6, systematic drawing proportional to size; no unit is large enough to be certain."""
    from samplics.sampling import SampleSelection
    from samplics.utils.types import SelectMethod

    measures = [12.0, 5, 9, 20, 7, 31, 14, 8, 3, 11]
    selection = SampleSelection(method=SelectMethod.pps_sys, strat=False, wr=False)
    _, _, theirs = selection.select(np.arange(10), 3, mos=np.array(measures))
    ours = {one.place: one.probability for seed in range(300) for one in draw_by_size(measures, 3, seed).drawn}
    assert [ours[place] for place in range(10)] == pytest.approx([float(one) for one in theirs], abs=1e-12)


def test_outcome_rates_by_the_standard_definitions() -> None:
    """The formulas of AAPOR's Standard Definitions (2016), worked by hand in fractions; the numbers are made up."""
    found = Outcomes(
        interview=612, partial=38, refusal=141, non_contact=87, other=22, unknown_place=60, unknown_other=15, not_eligible=100
    )  # fmt: skip
    e = Fraction(900, 1000)
    rates = outcome_rates(found)
    assert rates.eligible_share == float(e)
    wide, narrow = 900 + 75, 900 + e * 75
    assert rates.response == pytest.approx(
        [612 / wide, 650 / wide, float(612 / narrow), float(650 / narrow), 612 / 900, 650 / 900]
    )
    assert rates.cooperation == pytest.approx([612 / 813, 650 / 813, 612 / 791, 650 / 791])
    assert rates.refusal == pytest.approx([141 / wide, float(141 / narrow), 141 / 900])
    assert rates.contact == pytest.approx([813 / wide, float(813 / narrow), 813 / 900])
