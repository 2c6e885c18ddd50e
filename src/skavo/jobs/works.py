"""Every kind of job with the function that does it."""

from __future__ import annotations

from skavo.jobs.extracts import write_extract
from skavo.jobs.laying import KIND as LAYING_OUT
from skavo.jobs.laying import lay_out_again
from skavo.jobs.rehearsals import prove_draft, rehearse_draft
from skavo.jobs.runner import Work

WORKS: dict[str, Work] = {
    "extract": write_extract,
    "rehearsal": rehearse_draft,
    "proof": prove_draft,
    LAYING_OUT: lay_out_again,
}
