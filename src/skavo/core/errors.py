"""The one family of errors that Skavo raises for what a user can mend."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any


class SkavoError(Exception):
    """A fault that the user can understand and mend.

    `code` is stable and is what screens translate by; `message` says what was found and what to do;
    `details` holds places and allowed values, never an answer given in an interview.
    """

    def __init__(self, code: str, message: str, details: Mapping[str, Any] | None = None) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.details: dict[str, Any] = dict(details or {})


class DataError(SkavoError):
    """A file or a table does not hold what is needed of it."""


class InterviewError(SkavoError):
    """An interview document, or a path into one, does not fit its release."""


class EstimationError(SkavoError):
    """A figure cannot be computed from what was given."""
