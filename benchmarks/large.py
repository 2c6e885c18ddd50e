"""A million interviews with a hundred variables, worked in a process of its own: how much memory it takes."""

from __future__ import annotations

import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import polars as pl

from benchmarks.cleaning import made_data, made_steps
from benchmarks.result import Result
from skavo.core.cleaning.plan import apply_plan
from skavo.core.cleaning.steps import Derive
from skavo.core.dataset.flatten import FACTS, DataSet
from skavo.core.dataset.layout import INTERVIEWS, KEY
from skavo.core.estimation.tables import TableRequest, make_table
from skavo.core.recipes.make import make
from skavo.core.recipes.recipe import LeavesOut, Recipe, Source
from skavo.formats.csv_files import write_csv_zip
from skavo.formats.extract import ExtractOptions
from skavo.store.raw_frames import read_frame, write_frame

ROWS = 1_000_000
_MOST_GIB = 2.0
_FILE = "interviews.parquet"


def run() -> Iterator[Result]:
    with tempfile.TemporaryDirectory() as folder:
        write_frame(made_data(ROWS)[INTERVIEWS].frame, Path(folder) / _FILE)
        began = time.perf_counter()
        command = [sys.executable, "-m", "benchmarks.large", folder]
        told = subprocess.run(command, check=True, capture_output=True, text=True)
        seconds = time.perf_counter() - began
    gib = float(told.stdout.split()[-1])
    detail = f"plan of 30 steps, recipe, table and .csv in {seconds:.0f} s"
    yield Result("1,000,000 × 100 worked", gib, _MOST_GIB, detail, unit="GiB")


def _work(folder: Path) -> None:
    # As in a server, the raw tables and those of the plan stay in memory beside what is made of them.
    raw = _read(folder)
    cleaned = apply_plan(raw, list(enumerate(made_steps(), 1)))
    recipe = Recipe(
        sources=[Source(questionnaire=1)],
        derived=[Derive(into="both", formula="n1 + n2")],
        left_out=[LeavesOut(rule="n3 > 900")],
    )
    made = make(recipe, {1: cleaned.data}, [""])
    make_table(made.data, TableRequest(show="mean", variable="both", by="c1"))
    with (folder / "extract.zip").open("wb") as out:
        write_csv_zip(out, made.data, ExtractOptions(format="csv"))
    assert raw[INTERVIEWS].frame.height == cleaned.data[INTERVIEWS].frame.height


def _read(folder: Path) -> DataSet:
    facts = [pl.lit(None, dtype=kind).alias(name) for name, kind in FACTS.items() if name != KEY]
    frame = read_frame(folder / _FILE).with_columns(facts)
    return {INTERVIEWS: made_data(1)[INTERVIEWS].with_frame(frame)}


if __name__ == "__main__":
    _work(Path(sys.argv[1]))
    print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20)
