"""Drawing 10,000 of 1,000,000, each way, against giving each of them a number by chance and sorting those."""

from __future__ import annotations

import random
import time
from collections.abc import Callable, Iterator

from benchmarks.result import Result
from skavo.core.sampling.draw import (
    Sample,
    draw_by_size,
    draw_simple,
    draw_stratified,
    draw_systematic,
    draw_two_stages,
)

COUNT, SIZE = 1_000_000, 10_000


def _seconds(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def _numbers() -> list[float]:
    chance = random.Random(1)
    return sorted(chance.random() for _ in range(COUNT))


def run() -> Iterator[Result]:
    chance = random.Random(1)
    measures = [chance.lognormvariate(3, 1) for _ in range(COUNT)]
    wards = [f"ward {number % 14}" for number in range(COUNT)]
    bare = min(_seconds(_numbers) for _ in range(3))
    ways: dict[str, Callable[[], Sample]] = {
        "simple": lambda: draw_simple(COUNT, SIZE, 3),
        "systematic": lambda: draw_systematic(COUNT, SIZE, 3),
        "stratified, by Neyman": lambda: draw_stratified(wards, SIZE, 3, "neyman", measures),
        "proportional to size": lambda: draw_by_size(measures, SIZE, 3),
        "in two stages": lambda: draw_two_stages(wards, 6, SIZE // 6, 3, measures),
    }
    for name, way in ways.items():
        took = min(_seconds(way) for _ in range(3))
        detail = f"{took * 1000:.0f} ms against {bare * 1000:.0f} ms"
        yield Result(f"drawing {SIZE:,} of {COUNT:,}, {name} / numbers by chance, sorted", took / bare, 3, detail)
