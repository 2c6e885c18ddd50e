"""Why a change of a unit that was made on a phone waits for somebody to decide."""

from __future__ import annotations

from typing import Literal

Why = Literal[
    "", "fields", "wrong_value", "key_taken", "wrong_key", "above_unknown", "above_closed", "cannot_hang_there", "unit_unknown",
    "kind_unknown", "not_on_phones", "not_carried",
]  # fmt: skip
# Nothing of these changes is in the register before somebody has decided, or before what they need has arrived.
WHY: dict[Why, str] = {
    "fields": "Somebody else has made something else of the same fields meanwhile.",
    "wrong_value": "A field cannot hold what was entered.",
    "key_taken": "Another unit has the key that it was given; it has got another one.",
    "wrong_key": "Its key does not look as those of its kind do.",
    "above_unknown": "What it lies under is not in the register.",
    "above_closed": "What it lies under was closed meanwhile.",
    "cannot_hang_there": "Units of its kind do not hang there any more.",
    "unit_unknown": "The unit is not in the register.",
    "kind_unknown": "The study has no such kind of unit.",
    "not_carried": "The unit was not one of those that this phone carries.",
    "not_on_phones": "Units of its kind are not changed on phones any more.",
}
# What comes right by itself once another change arrives.
AWAITS_ANOTHER: frozenset[Why] = frozenset({"above_unknown", "unit_unknown"})
