"""`skavo rehearse` and `skavo prove`, with a workbook as somebody would hand it in."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest

from skavo.cli import main
from skavo.core.questionnaire.script import Script
from skavo.formats.workbook.write import write_workbook
from tests.samples import part, script
from tests.workshop import workshop_script

DAY = ["--day", "2027-03-14"]


def workbook(folder: Path, sample: Script) -> str:
    path = folder / "survey.xlsx"
    path.write_bytes(write_workbook(sample))
    return str(path)


def trapped() -> Script:
    """A questionnaire with a dead end, a pair that contradicts, and a fieldwork that begins in May."""
    return script(
        part(1, "date", "d", must=["d between 2027-05-10 and today"], answer_needed="yes"),
        part(1, "whole number", "a", must=["a > 5", "a < 4"]),
        part(1, "text", "t", asked_when="a > 10"),
    )


def test_the_same_seed_and_day_give_the_same_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = workbook(tmp_path, workshop_script())
    outs = [tmp_path / "one", tmp_path / "two"]
    for out in outs:
        assert main(["rehearse", file, "-n", "12", "--seed", "7", *DAY, "--out", str(out)]) == 0
    told = capsys.readouterr().out
    assert "12 of 12 interviews made up (seed 7, on 2027-03-14)" in told
    assert "expected duration" in told
    names = sorted(str(p.relative_to(outs[0])) for p in outs[0].rglob("*") if p.is_file())
    assert {"rehearsal.json", "reach.csv", "rules.csv", "unmet.csv", "interviews.json", "data/interviews.csv"} <= set(
        names
    )
    assert all((outs[0] / name).read_bytes() == (outs[1] / name).read_bytes() for name in names)
    with (outs[0] / "data" / "interviews.csv").open(encoding="utf-8-sig", newline="") as rows:
        states = {row["interview.state"] for row in csv.DictReader(rows)}
    assert states == {"made up"}


def test_checks_that_could_not_be_met_are_told_and_give_status_1(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["rehearse", workbook(tmp_path, trapped()), "-n", "3", *DAY]) == 1
    told = capsys.readouterr().out
    assert "0 of 3 interviews made up" in told
    assert "could not be met in 3: d: d between 2027-05-10 and today" in told


def test_a_proof_is_told_in_lines_and_as_json(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = workbook(tmp_path, trapped())
    assert main(["prove", file, *DAY]) == 1
    told = capsys.readouterr().out.splitlines()
    assert "2 questions can be reached (on 2027-05-10 or within two years)" in told
    assert "contradiction: a: a > 5 and a: a < 4" in told
    assert any(line.startswith("never asked: t: ") for line in told)
    assert main(["prove", file, "--json", *DAY]) == 1
    proof = json.loads(capsys.readouterr().out)
    assert {"unreachable", "checks", "undecided", "tests", "contradictions", "reached", "day"} <= proof.keys()
    assert [told["variable"] for told in proof["unreachable"]] == ["t"]
    assert {(c["variable"], c["rule"], c["verdict"]) for c in proof["checks"]} == {
        ("d", "d between 2027-05-10 and today", "sound"), ("a", "a > 5", "never met"), ("a", "a < 4", "never met"),
    }  # fmt: skip


def test_what_is_sound_gives_status_0(tmp_path: Path) -> None:
    assert main(["prove", workbook(tmp_path, workshop_script()), *DAY]) == 0


@pytest.mark.parametrize("command", ["rehearse", "prove"])
def test_what_cannot_be_done_is_said(tmp_path: Path, command: str, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main([command, workbook(tmp_path, workshop_script()), "--day", "2027-02-30"])
    assert "there is no day “2027-02-30”; write it as 2027-03-14" in capsys.readouterr().err
    faulty = script(part(1, "text", "t", asked_when="wrokers > 2"))
    assert main([command, workbook(tmp_path, faulty)]) == 2
    assert "survey.xlsx has 1 error. See them with: skavo check" in capsys.readouterr().err
