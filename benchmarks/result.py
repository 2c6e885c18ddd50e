"""One measured figure beside what it has to reach."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Result:
    """`ratio` is measured over a baseline of the same run, or in `unit`s where there is none; at most `to_reach`."""

    what: str
    ratio: float
    to_reach: float
    detail: str
    unit: str = "×"

    @property
    def reached(self) -> bool:
        return self.ratio <= self.to_reach

    def __str__(self) -> str:
        mark = "reached" if self.reached else "MISSED"
        return (
            f"{self.what}: {self.ratio:.2f} {self.unit} (to reach {self.to_reach} {self.unit}, {mark}); {self.detail}"
        )
