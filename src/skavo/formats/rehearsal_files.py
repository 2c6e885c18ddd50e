"""A rehearsal as files: the report, what each question and rule came to, and the data set."""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from skavo.core.rehearsal.rehearse import Firing, Reach, Rehearsal, Unmet
from skavo.formats.csv_files import csv_tables
from skavo.formats.extract import ExtractOptions


def write_rehearsal(rehearsal: Rehearsal, folder: Path) -> list[Path]:
    """Write the files into `folder`, which is made if need be; return them."""
    folder.mkdir(parents=True, exist_ok=True)
    files = [
        _write_json(folder / "rehearsal.json", summary(rehearsal)),
        _write_rows(folder / "reach.csv", Reach, rehearsal.reach),
        _write_rows(folder / "rules.csv", Firing, rehearsal.firing),
        _write_rows(folder / "unmet.csv", Unmet, rehearsal.unmet),
        _write_json(folder / "interviews.json", rehearsal.answers),
    ]
    for name, text in csv_tables(rehearsal.data, ExtractOptions(format="csv", masked=False)).items():
        path = folder / "data" / name
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, encoding="utf-8", newline="")
        files.append(path)
    return files


def summary(rehearsal: Rehearsal) -> dict[str, Any]:
    """The rehearsal as JSON, without its interviews and their data."""
    minutes = rehearsal.minutes
    return {
        "wanted": rehearsal.wanted,
        "made": rehearsal.made,
        "seed": rehearsal.seed,
        "day": rehearsal.day,
        "minutes": None if minutes is None else {"median": minutes[0], "tenth": minutes[1], "ninetieth": minutes[2]},
        "assumption": rehearsal.assumption,
        "never_asked": rehearsal.never_asked,
        "reach": [asdict(r) for r in rehearsal.reach],
        "blocks": [asdict(b) for b in rehearsal.blocks],
        "went": asdict(rehearsal.went),
        "rules": [asdict(f) for f in rehearsal.firing],
        "unmet": [asdict(u) for u in rehearsal.unmet],
    }


def _write_json(path: Path, content: Any) -> Path:
    path.write_text(json.dumps(content, ensure_ascii=False, indent=1), encoding="utf-8")
    return path


def _write_rows(path: Path, kind: type[Any], rows: Sequence[Any]) -> Path:
    fields: Iterable[str] = kind.__dataclass_fields__
    with path.open("w", encoding="utf-8-sig", newline="") as out:
        writer = csv.DictWriter(out, list(fields))
        writer.writeheader()
        writer.writerows(asdict(row) for row in rows)
    return path
