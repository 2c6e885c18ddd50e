"""What takes longer than a page can wait for: a job does it, and the page opens once it is done."""

from __future__ import annotations

from typing import Any

from skavo.core.errors import SkavoError


class BeingPrepared(SkavoError):
    """Work of the `kind` of a job, for a questionnaire, that has to be done before there is an answer.

    `progress` is how far it is, from 0 to 1, where whoever raises this knows it better than the job does.
    """

    def __init__(
        self, kind: str, questionnaire_id: int, message: str, order: dict[str, Any], progress: float | None = None
    ) -> None:
        super().__init__("being_prepared", message, {"progress": progress or 0.0})
        self.kind, self.questionnaire_id, self.progress = kind, questionnaire_id, progress
        self.order = {"questionnaire_id": questionnaire_id, **order}
