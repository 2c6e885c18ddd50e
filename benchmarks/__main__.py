"""Runs benchmarks and prints each ratio beside what it has to reach: python -m benchmarks [NAME …]."""

from __future__ import annotations

import sys

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

_ALL = (
    engine, tap, questionnaire, handin, fieldwork, cleaning, combining, large, laying, phone, sheet, register, drawing,
    icon, first_question, weeks,
)  # fmt: skip
_BY_NAME = {module.__name__.rpartition(".")[2]: module for module in _ALL}


def main(names: list[str]) -> int:
    """Run those that are named, all without a name; 1 where one missed what it has to reach."""
    missed = 0
    for name in names or _BY_NAME:
        for result in _BY_NAME[name].run():
            print(result, flush=True)
            missed += not result.reached
    return 1 if missed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
