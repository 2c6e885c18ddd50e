"""Every kind of job with the function that does it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from skavo.jobs.extracts import write_extract
from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.jobs.laying import lay_out_again
from skavo.jobs.letters import letters_by
from skavo.jobs.mail import Mail
from skavo.jobs.papers import print_paper
from skavo.jobs.rehearsals import prove_draft, rehearse_draft
from skavo.jobs.runner import Kind
from skavo.jobs.tidying import tidy

_KINDS: dict[str, Kind] = {
    "extract": Kind(write_extract),
    "rehearsal": Kind(rehearse_draft),
    "proof": Kind(prove_draft),
    "paper": Kind(print_paper),
    LAYING_OUT: Kind(lay_out_again, waits=False),
    "tidying": Kind(tidy, waits=False, every=timedelta(days=1)),
}


def kinds_of(mail: Callable[[], Mail]) -> dict[str, Kind]:
    """Every kind of job; letters go out through what `mail` gives."""
    return {**_KINDS, "letters": Kind(letters_by(mail), waits=False)}
