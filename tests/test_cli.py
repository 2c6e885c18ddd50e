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
from tests.core.linking.people import two_lists


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
    assert counts == {"Interview": 24, "Device": 8, "OutsideTable": 2, "SavedTable": 3}
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


def listed(path: Path, rows: list[dict[str, str]]) -> Path:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, list(rows[0]))
        writer.writeheader()
        writer.writerows(rows)
    return path


def test_two_lists_are_linked_and_the_weights_told(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    left, right, truth = two_lists(300, 150, 0.2)
    files = [str(listed(tmp_path / "left.csv", left)), str(listed(tmp_path / "right.csv", right))]
    how = ["--compare", "name=full_name:text,born=born:date,ward:exact", "--block", "ward,born"]
    assert main(["link", *files, *how, "--out", str(tmp_path / "out")]) == 0
    assert "300 and 300 rows" in capsys.readouterr().out
    with (tmp_path / "out" / "pairs.csv").open(newline="", encoding="utf-8") as file:
        pairs = list(csv.DictReader(file))
    assert list(pairs[0]) == ["left_row", "right_row", "score", "verdict"]
    # The first row below the heading is the first.
    found = {(int(p["left_row"]) - 1, int(p["right_row"]) - 1) for p in pairs if p["verdict"] == "match"}
    assert len(found & truth) >= 0.98 * len(found) and len(found) > 120
    assert all(0 <= float(pair["score"]) <= 1 for pair in pairs)
    with (tmp_path / "out" / "weights.csv").open(newline="", encoding="utf-8") as file:
        assert {row["comparison"] for row in csv.DictReader(file)} == {
            "name=full_name:text", "born=born:date", "ward=ward:exact",
        }  # fmt: skip


@pytest.mark.parametrize(
    ("compare", "block", "said"),
    [
        ("name=full:text", "name", "full_name"), ("name=full_name", "name", "left=right:how"),
        ("name=full_name:text", "ward", "not among what is compared"),
    ],
)  # fmt: skip
def test_what_cannot_be_linked_is_told(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], compare: str, block: str, said: str
) -> None:
    left, right, _ = two_lists(4, 2, 0)
    files = [str(listed(tmp_path / "left.csv", left)), str(listed(tmp_path / "right.csv", right))]
    options = ["--compare", compare, "--block", block, "--out", str(tmp_path / "out")]
    assert main(["link", *files, *options]) == 2
    assert said in capsys.readouterr().err
    assert not (tmp_path / "out").exists()
    assert main(["link", str(tmp_path / "no.csv"), files[1], *options]) == 2
