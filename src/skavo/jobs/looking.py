"""The job that looks at a large table from elsewhere."""

from __future__ import annotations

from typing import Any

from skavo.jobs.runner import Progress
from skavo.store.database import Store
from skavo.store.datasets import DataSets
from skavo.store.looking import KeptIn, LookIn, Looking


def look_at_table(_: Store, sets: DataSets, order: dict[str, Any], progress: Progress) -> dict[str, Any]:
    """`order` is {questionnaire_id, asked: LookIn or KeptIn}; what was seen is in memory then, where the page finds it."""
    asked = order["asked"]
    looking = Looking(sets, (KeptIn if "kept" in asked else LookIn).model_validate(asked))
    return {"columns": len(looking.looks(progress.say))}
