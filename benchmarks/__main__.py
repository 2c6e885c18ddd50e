"""Runs every benchmark and prints its ratio beside what it has to reach."""

from __future__ import annotations

import sys
from itertools import chain

from benchmarks import (
    cleaning,
    combining,
    drawing,
    engine,
    fieldwork,
    first_question,
    handin,
    icon,
    large,
    laying,
    phone,
    questionnaire,
    register,
    sheet,
    tap,
    weeks,
)

if __name__ == "__main__":
    missed = 0
    for result in chain(
        engine.run(),
        tap.run(),
        questionnaire.run(),
        handin.run(),
        fieldwork.run(),
        cleaning.run(),
        combining.run(),
        large.run(),
        laying.run(),
        phone.run(),
        sheet.run(),
        register.run(),
        drawing.run(),
        icon.run(),
        first_question.run(),
        weeks.run(),
    ):
        print(result, flush=True)
        missed += not result.reached
    sys.exit(1 if missed else 0)
