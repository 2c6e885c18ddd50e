"""How a sample is shared out between strata."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from skavo.core.errors import DataError

Way = Literal["proportional", "equal", "neyman"]


def allocate(size: int, counts: Sequence[int], way: Way, spreads: Sequence[float] = (), least: int = 1) -> list[int]:
    """How many to draw in each stratum, `size` in all: in the order of `counts`, never more than there are.

    `proportional` to how many there are, `equal` in each, or `neyman`: proportional to how many there are times the
    standard deviation in `spreads` (J. Neyman 1934; Cochran 1977, equation 5.26). A stratum that would get more than it
    has is taken whole, and the rest shared out among the others (Cochran 1977, section 5.8). Every stratum that has any
    gets `least`, as far as `size` goes. Raise DataError where that cannot be.
    """
    if size < 1 or size > sum(counts):
        raise DataError("wrong_size", f"{size:,} cannot be drawn from {sum(counts):,}. Ask for 1 to {sum(counts):,}.")
    if any(count < 0 for count in counts):
        raise DataError("wrong_size", "A stratum cannot have fewer than 0.")
    if way == "neyman":
        if len(spreads) != len(counts):
            raise DataError("no_spread", "Neyman’s allocation needs a standard deviation for each stratum.")
        if any(not math.isfinite(spread) or spread < 0 for spread in spreads):
            raise DataError("no_spread", "A standard deviation is a number of 0 or more.")
        if not any(count * spread for count, spread in zip(counts, spreads, strict=True)):
            raise DataError("no_spread", "Nothing differs within any stratum: allocate proportionally.")
    wished = {
        "proportional": [float(count) for count in counts],
        "equal": [float(count > 0) for count in counts],
        "neyman": [count * spread for count, spread in zip(counts, spreads or [0.0] * len(counts), strict=True)],
    }[way]
    floors = [min(least, count) for count in counts]
    if sum(floors) > size:
        floors = [0] * len(counts)
    return _shared_out(size, wished, floors, list(counts))


def _shared_out(size: int, wished: list[float], floors: list[int], ceilings: list[int]) -> list[int]:
    """Whole shares of `size` in proportion to what is wished, each between its floor and its ceiling.

    What remains after rounding down goes where the most was cut off (Hamilton's largest remainders).
    """
    shares: dict[int, float] = {}
    free = list(range(len(wished)))
    while free:
        left = size - sum(shares.values())
        # Where nothing is wished for any more, what is left goes by how many there are.
        wish = wished if any(wished[at] for at in free) else [float(ceiling) for ceiling in ceilings]
        total = sum(wish[at] for at in free) or 1.0
        share = {at: left * wish[at] / total for at in free}
        bound = {at: float(ceilings[at]) for at in free if share[at] >= ceilings[at]} or {
            at: float(floors[at]) for at in free if share[at] <= floors[at]
        }
        shares |= bound or share
        free = [at for at in free if at not in shares]
    given = [math.floor(round(shares[at], 9)) for at in range(len(wished))]
    rest = size - sum(given)
    by_remainder = sorted(range(len(wished)), key=lambda at: (given[at] - shares[at], at))
    for at in [one for one in by_remainder if given[one] < ceilings[one]][:rest]:
        given[at] += 1
    return given
