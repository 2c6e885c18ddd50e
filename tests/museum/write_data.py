"""Writes the data sets of the store in a folder as JSON: {raw, data}, each {table: rows}, and those made by recipes by their
titles. Run by the version that made the store."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from sqlalchemy import select

from skavo.store.database import open_store
from skavo.store.datasets import DataSets
from skavo.store.models import NamedDataSet
from skavo.store.recipes import named_data


def tables_of(folder: Path) -> dict[str, dict[str, list[dict[str, Any]]]]:
    """The tables of the first questionnaire, as handed in and as cleaned and joined, and of every data set that was made."""
    store = open_store(folder)
    sets = DataSets(store.files)
    with store.reading() as session:
        prepared = sets.of(session, 1)
        made = session.scalars(select(NamedDataSet).where(NamedDataSet.begins_id.is_(None)))
        by_title = {named.title: named_data(sets, session, named).data for named in made}
    both = {"raw": prepared.raw, "data": prepared.data, **by_title}
    return {name: {table: json.loads(t.frame.write_json()) for table, t in data.items()} for name, data in both.items()}


if __name__ == "__main__":
    print(json.dumps(tables_of(Path(sys.argv[1])), ensure_ascii=False, sort_keys=True, separators=(",", ":")))
