"""Delimited texts and how alike words are, against what has been published."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from rapidfuzz.distance import Jaro, JaroWinkler, Levenshtein

from skavo.core.linking.compare import Cells, levels_of
from skavo.formats.tables_in import read_table_in
from skavo.formats.tables_in.told import FileReading

# RFC 4180, section 2, rules 1 to 7: the examples as they stand there, with CRLF where it says CRLF.
RFC_4180 = [
    ("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n", [("aaa", "bbb", "ccc"), ("zzz", "yyy", "xxx")]),
    ("aaa,bbb,ccc\r\nzzz,yyy,xxx", [("aaa", "bbb", "ccc"), ("zzz", "yyy", "xxx")]),
    ('"aaa","bbb","ccc"\r\nzzz,yyy,xxx', [("aaa", "bbb", "ccc"), ("zzz", "yyy", "xxx")]),
    ('"aaa","b\r\nbb","ccc"\r\nzzz,yyy,xxx', [("aaa", "b\r\nbb", "ccc"), ("zzz", "yyy", "xxx")]),
    ('"aaa","b""bb","ccc"', [("aaa", 'b"bb', "ccc")]),
]


@pytest.mark.parametrize(("text", "rows"), RFC_4180)
def test_the_examples_of_rfc_4180_are_read_as_it_says(tmp_path: Path, text: str, rows: list[tuple[str, ...]]) -> None:
    path = tmp_path / "x.csv"
    path.write_bytes(text.encode())
    found = read_table_in("x.csv", path, FileReading(encoding="utf-8", delimiter=",", heading=0))
    assert found.frame.rows() == rows


def test_a_heading_is_read_as_rfc_4180_says(tmp_path: Path) -> None:
    """Rule 3."""
    path = tmp_path / "x.csv"
    path.write_bytes(b"field_name,field_name2,field_name3\r\naaa,bbb,ccc\r\nzzz,yyy,xxx\r\n")
    found = read_table_in("x.csv", path)
    assert found.frame.columns == ["field_name", "field_name2", "field_name3"]
    assert found.frame.rows() == [("aaa", "bbb", "ccc"), ("zzz", "yyy", "xxx")]


# W. E. Winkler, "String comparator metrics and enhanced decision rules in the Fellegi-Sunter model of record linkage",
# Proceedings of the Section on Survey Research Methods, American Statistical Association (1990), table of examples; the values
# as they are printed there, to three places (from memory).
WINKLER_1990 = [
    ("SHACKLEFORD", "SHACKELFORD", 0.970, 0.982), ("DUNNINGHAM", "CUNNIGHAM", 0.896, 0.896), ("NICHLESON", "NICHULSON", 0.926, 0.956),
    ("JONES", "JOHNSON", 0.790, 0.832), ("MASSEY", "MASSIE", 0.889, 0.933), ("ABROMS", "ABRAMS", 0.889, 0.922),
    ("ITMAN", "SMITH", 0.467, 0.467), ("JERALDINE", "GERALDINE", 0.926, 0.926), ("MARHTA", "MARTHA", 0.944, 0.961),
    ("MICHELLE", "MICHAEL", 0.869, 0.921), ("JULIES", "JULIUS", 0.889, 0.933), ("TANYA", "TONYA", 0.867, 0.880),
    ("DWAYNE", "DUANE", 0.822, 0.840), ("SEAN", "SUSAN", 0.783, 0.805), ("JON", "JOHN", 0.917, 0.933),
]  # fmt: skip


@pytest.mark.parametrize(("one", "other", "jaro", "winkler"), WINKLER_1990)
def test_texts_are_as_alike_as_winkler_printed(one: str, other: str, jaro: float, winkler: float) -> None:
    assert round(Jaro.similarity(one, other), 3) == pytest.approx(jaro, abs=0.0011)
    assert round(JaroWinkler.similarity(one, other), 3) == pytest.approx(winkler, abs=0.0011)
    place = np.zeros(1, dtype=np.int64)
    (level,) = levels_of(Cells("text", [one]), Cells("text", [other]), place, place)
    assert level == (2 if winkler >= 0.92 else 1 if winkler >= 0.82 else 0)


# V. I. Levenshtein's distance, with the example that textbooks print: D. Jurafsky and J. H. Martin, "Speech and Language
# Processing" (2nd ed. 2009), section 3.11, where a substitution costs 1: intention to execution is 5.
@pytest.mark.parametrize(
    ("one", "other", "distance"), [("intention", "execution", 5), ("kitten", "sitting", 3), ("", "abc", 3)]
)
def test_edits_are_counted_as_published(one: str, other: str, distance: int) -> None:
    assert Levenshtein.distance(one, other) == distance
