"""Linking against published values."""

from __future__ import annotations

import pytest
from rapidfuzz.distance import Jaro, JaroWinkler


@pytest.mark.parametrize(
    ("a", "b", "jaro", "winkler"),
    [
        ("SHACKLEFORD", "SHACKELFORD", 0.970, 0.982), ("DUNNINGHAM", "CUNNIGHAM", 0.896, 0.896),
        ("NICHLESON", "NICHULSON", 0.926, 0.956), ("JONES", "JOHNSON", 0.790, 0.832), ("MASSEY", "MASSIE", 0.889, 0.933),
        ("ABROMS", "ABRAMS", 0.889, 0.922), ("JERALDINE", "GERALDINE", 0.926, 0.926), ("MARHTA", "MARTHA", 0.944, 0.961),
        ("MICHELLE", "MICHAEL", 0.869, 0.921), ("JULIES", "JULIUS", 0.889, 0.933), ("DWAYNE", "DUANE", 0.822, 0.840),
        ("SEAN", "SUSAN", 0.783, 0.805), ("JON", "JOHN", 0.917, 0.933),
    ],
)  # fmt: skip
def test_likeness_of_names_is_that_of_winkler(a: str, b: str, jaro: float, winkler: float) -> None:
    """W. E. Winkler, “Overview of record linkage and current research directions”, US Census Bureau, Research Report
    Statistics 2006-2, table 6 (from memory)."""
    assert Jaro.similarity(a, b) == pytest.approx(jaro, abs=6e-4)
    assert JaroWinkler.similarity(a, b) == pytest.approx(winkler, abs=6e-4)
