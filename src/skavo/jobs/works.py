"""Every kind of job with the function that does it."""

from __future__ import annotations

from datetime import timedelta

from skavo.jobs.extracts import write_extract
from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.jobs.laying import lay_out_again
from skavo.jobs.papers import print_paper
from skavo.jobs.rehearsals import prove_draft, rehearse_draft
from skavo.jobs.runner import Kind
from skavo.jobs.tidying import tidy

KINDS: dict[str, Kind] = {
    "extract": Kind(write_extract),
    "rehearsal": Kind(rehearse_draft),
    "proof": Kind(prove_draft),
    "paper": Kind(print_paper),
    LAYING_OUT: Kind(lay_out_again, waits=False),
    "tidying": Kind(tidy, waits=False, every=timedelta(days=1)),
}
