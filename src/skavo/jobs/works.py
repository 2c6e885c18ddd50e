"""Every kind of job with the function that does it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from skavo.jobs.extracts import write_extract
from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.jobs.laying import lay_out_again
from skavo.jobs.letters import letters_by
from skavo.jobs.looking import look_at_table
from skavo.jobs.mail import Mail
from skavo.jobs.papers import print_paper
from skavo.jobs.preparing import prepare_tables
from skavo.jobs.registers import (
    BRINGING_IN,
    RECKONED_EVERY,
    RECKONING,
    RECKONING_DAILY,
    TAKING_OUT,
    bring_in_units,
    reckon_units,
    take_out_units,
)
from skavo.jobs.rehearsals import prove_draft, rehearse_draft
from skavo.jobs.runner import Kind
from skavo.jobs.tidying import tidy
from skavo.store.datasets import TABLES
from skavo.store.looking import LOOKING

_KINDS: dict[str, Kind] = {
    "extract": Kind(write_extract),
    "rehearsal": Kind(rehearse_draft),
    "proof": Kind(prove_draft),
    "paper": Kind(print_paper),
    TABLES: Kind(prepare_tables, waits=False),
    LOOKING: Kind(look_at_table),
    LAYING_OUT: Kind(lay_out_again, waits=False),
    BRINGING_IN: Kind(bring_in_units),
    TAKING_OUT: Kind(take_out_units),
    RECKONING: Kind(reckon_units, waits=False),
    RECKONING_DAILY: Kind(reckon_units, waits=False, every=RECKONED_EVERY),
    "tidying": Kind(tidy, waits=False, every=timedelta(days=1)),
}


def kinds_of(mail: Callable[[], Mail]) -> dict[str, Kind]:
    """Every kind of job; letters go out through what `mail` gives."""
    return {**_KINDS, "letters": Kind(letters_by(mail), waits=False)}
