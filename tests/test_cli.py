"""The command line, as somebody without a browser uses it."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest
from sqlalchemy import func, select

from skavo import __version__
from skavo.cli import main
from skavo.store.database import open_store
from skavo.store.models import Device, Interview, OutsideTable, Person, PlanStep, SavedTable


def test_the_version_is_told(capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit):
        main(["--version"])
    assert capsys.readouterr().out.strip() == __version__


def test_an_administrator_is_added_with_a_passphrase_that_is_not_guessed(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    command = ["add-administrator", "Ada", "Ada Lorn", "--folder", str(tmp_path)]
    monkeypatch.setattr("sys.stdin", io.StringIO("short\n"))
    assert main(command) == 2
    assert "at least 12 characters" in capsys.readouterr().err
    monkeypatch.setattr("sys.stdin", io.StringIO("wells under the tarn\n"))
    assert main(command) == 0
    with open_store(tmp_path).reading() as session:
        person = session.scalars(select(Person)).one()
    assert (person.login, person.is_administrator) == ("ada", True)
    assert "wells" not in person.password_hash


def test_the_demo_is_made_once_and_holds_what_it_promises(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    # As `make demo` names it: a folder beside whoever starts it.
    monkeypatch.chdir(tmp_path)
    command = ["demo", "--folder", "var", "--port", "0", "--only-make", "--interviews", "24"]
    assert main(command) == 0
    told = capsys.readouterr().out
    assert "data manager" in told and "ostrel-isles" in told
    store = open_store(tmp_path / "var")
    with store.reading() as session:
        counts = {
            table.__name__: session.scalar(select(func.count()).select_from(table))
            for table in (Interview, Device, OutsideTable, SavedTable)
        }
        steps = list(session.scalars(select(PlanStep)))
        differing = session.scalar(select(func.count()).where(Interview.differs.is_(True)))
    assert counts == {"Interview": 24, "Device": 8, "OutsideTable": 1, "SavedTable": 2}
    assert {"recode", "mark_missing"} <= {step.body["kind"] for step in steps}
    assert differing == 0
    assert main(command) == 0
    assert "Making" not in capsys.readouterr().out


def test_backing_up_a_folder_without_a_store_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["backup", str(tmp_path / "b.zip"), "--folder", str(tmp_path)]) == 2
    assert "no database" in capsys.readouterr().err


def test_restoring_what_is_no_backup_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "b.zip").write_bytes(b"nothing")
    assert main(["restore", str(tmp_path / "b.zip"), "--folder", str(tmp_path / "new")]) == 2
    assert "not a backup" in capsys.readouterr().err


def test_checking_a_file_that_is_not_there_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["check", str(tmp_path / "q.xlsx")]) == 2
    assert "There is no file q.xlsx." in capsys.readouterr().err


def frame_file(folder: Path) -> Path:
    rows = [f"W{n:03},{['Harbour', 'Hill', 'Green, old'][n % 3]},{1 + n % 17}.5" for n in range(90)]
    cells = [row.replace("Green, old", '"Green, old"') for row in rows]
    path = folder / "frame.csv"
    path.write_text("plate,ward,turnover\n" + "\n".join(cells) + "\n", encoding="utf-8")
    return path


def drawn(folder: Path, *options: str) -> list[dict[str, str]]:
    out = folder / "sample.csv"
    assert main(["draw", str(frame_file(folder)), *options, "--seed", "3", "--out", str(out)]) == 0
    with out.open(newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


DRAWS = {
    "simple": ["--size", "12"],
    "systematic": ["--size", "12"],
    "stratified": ["--size", "12", "--strata", "ward", "--allocate", "neyman", "--spread", "turnover"],
    "pps": ["--size", "12", "--measure", "turnover"],
    "two-stage": ["--size", "6", "--cluster", "ward", "--clusters", "2"],
}


@pytest.mark.parametrize("way", list(DRAWS))
def test_a_sample_is_drawn_from_a_file_and_again_the_same(tmp_path: Path, way: str) -> None:
    rows = drawn(tmp_path, "--by", way, *DRAWS[way])
    assert rows == drawn(tmp_path, "--by", way, *DRAWS[way])
    assert len(rows) == 12
    with frame_file(tmp_path).open(newline="") as file:
        frame = {row["plate"]: row for row in csv.DictReader(file)}
    for row in rows:
        assert {name: row[name] for name in ("plate", "ward", "turnover")} == frame[row["plate"]]
        assert float(row["weight"]) == pytest.approx(1 / float(row["probability"]))
        assert row["stratum"] == (row["ward"] if way == "stratified" else "")
        assert row["cluster"] == (row["ward"] if way == "two-stage" else "")
    if way != "pps":
        assert sum(float(row["weight"]) for row in rows) == pytest.approx(90)


@pytest.mark.parametrize(
    ("options", "said"),
    [
        (["--by", "simple", "--size", "91"], "91 cannot be drawn from 90"),
        (["--by", "stratified", "--size", "9"], "needs --strata"),
        (
            ["--by", "stratified", "--size", "9", "--strata", "island"],
            "no column “island”; it has plate, ward, turnover",
        ),
        (["--by", "pps", "--size", "9", "--measure", "plate"], "Row 1 below the heading: “plate” is “W000”"),
        (["--by", "two-stage", "--size", "9", "--cluster", "ward", "--clusters", "4"], "4 cannot be drawn from 3"),
        (["--by", "simple", "--size", "9", "--out", "/nowhere/sample.csv"], "/nowhere/sample.csv cannot be written"),
    ],
)
def test_a_sample_that_cannot_be_drawn_is_refused_in_words(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], options: list[str], said: str
) -> None:
    out = [] if "--out" in options else ["--out", str(tmp_path / "s.csv")]
    assert main(["draw", str(frame_file(tmp_path)), "--seed", "1", *options, *out]) == 2
    assert said in capsys.readouterr().err
    assert not (tmp_path / "s.csv").exists()


def test_a_frame_with_a_column_of_ours_is_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "frame.csv"
    path.write_text("plate,weight\nA,1\n")
    options = ["--by", "simple", "--size", "1", "--seed", "1", "--out", str(tmp_path / "s.csv")]
    assert main(["draw", str(path), *options]) == 2
    assert "Rename that column" in capsys.readouterr().err
