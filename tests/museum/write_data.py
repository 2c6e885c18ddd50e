"""Writes the data set of the store in a folder as JSON: {raw, data}, each {table: rows}. Run by the version that made the store."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from skavo.store.database import open_store
from skavo.store.datasets import DataSets


def tables_of(folder: Path) -> dict[str, dict[str, list[dict[str, Any]]]]:
    """The tables of the first questionnaire, as handed in and as cleaned and joined."""
    store = open_store(folder)
    with store.reading() as session:
        prepared = DataSets(store.files).of(session, 1)
    both = {"raw": prepared.raw, "data": prepared.data}
    return {name: {table: json.loads(t.frame.write_json()) for table, t in data.items()} for name, data in both.items()}


if __name__ == "__main__":
    print(json.dumps(tables_of(Path(sys.argv[1])), ensure_ascii=False, sort_keys=True, separators=(",", ":")))
