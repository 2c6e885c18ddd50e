"""How a sample is to be drawn from a frame: what `skavo draw` is told on its command line, and the desk in its form."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field

from skavo.core.errors import DataError
from skavo.core.sampling import draw
from skavo.core.sampling.allocation import Way
from skavo.core.sampling.draw import Sample

By = Literal["simple", "systematic", "stratified", "pps", "two-stage"]
_Column = Field(default="", max_length=200)


class SamplePlan(BaseModel):
    """`size` is how many to draw, with two stages in each of the `clusters` clusters. The others name columns of the
    frame: what the `strata` are, whose `spread` counts in Neyman’s allocation, what the `measure` of size is (pps), what
    the `cluster` is. `reserves` are for each stratum or cluster."""

    model_config = ConfigDict(extra="forbid")
    by: By
    size: int = Field(ge=1, le=10_000_000)
    strata: str = _Column
    allocate: Way = "proportional"
    spread: str = _Column
    measure: str = _Column
    cluster: str = _Column
    clusters: int = Field(default=0, ge=0, le=1_000_000)
    reserves: int = Field(default=0, ge=0, le=1_000_000)
    seed: int = Field(ge=0, le=2**53)

    @property
    def columns(self) -> list[str]:
        """The columns that it reads, in which no cell may be empty."""
        named = {
            "stratified": [self.strata, self.spread if self.allocate == "neyman" else ""],
            "pps": [self.measure],
            "two-stage": [self.cluster, self.measure],
        }.get(self.by, [])
        return [column for column in named if column]


class Frame(Protocol):
    """Whom a sample could reach, row by row."""

    @property
    def height(self) -> int: ...

    def names(self, column: str) -> Sequence[str]: ...

    def numbers(self, column: str) -> Sequence[float]: ...


def draw_sample(plan: SamplePlan, frame: Frame) -> Sample:
    """Draw; the same plan draws the same from the same frame. Raise DataError where the plan lacks something."""
    if plan.reserves and plan.by in ("systematic", "pps"):
        raise DataError("no_reserves", "Drawn in the order of the frame, a sample has no reserves: draw more instead.")
    match plan.by:
        case "simple":
            return draw.draw_simple(frame.height, plan.size, plan.seed, plan.reserves)
        case "systematic":
            return draw.draw_systematic(frame.height, plan.size, plan.seed)
        case "stratified":
            spread = frame.numbers(_needed(plan, "spread")) if plan.allocate == "neyman" else []
            strata = frame.names(_needed(plan, "strata"))
            return draw.draw_stratified(strata, plan.size, plan.seed, plan.allocate, spread, plan.reserves)
        case "pps":
            return draw.draw_by_size(frame.numbers(_needed(plan, "measure")), plan.size, plan.seed)
        case _:
            clusters = frame.names(_needed(plan, "cluster"))
            measures = frame.numbers(plan.measure) if plan.measure else []
            count = int(_needed(plan, "clusters"))
            return draw.draw_two_stages(clusters, count, plan.size, plan.seed, measures, plan.reserves)


def _needed(plan: SamplePlan, name: str) -> str:
    value = getattr(plan, name)
    if not value:
        raise DataError("missing_option", f"Drawing {plan.by} needs --{name}.", {"option": name})
    return str(value)
