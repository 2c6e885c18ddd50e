"""The tables of the database."""

from skavo.store.models.base import Base, Moment, new_identity, now
from skavo.store.models.desk import (
    Access,
    Counter,
    Event,
    Job,
    MatchDecision,
    NamedDataSet,
    OutsideTable,
    PlanState,
    PlanStep,
    SavedTable,
    SentTable,
    SourceCheck,
)
from skavo.store.models.field import Interview, Revision, StoredFile
from skavo.store.models.links import Addressee, Answering, Link
from skavo.store.models.maps import MapSheet, SavedLayer
from skavo.store.models.media import ShelfFile
from skavo.store.models.paper import Batch, Keying, PaperForm
from skavo.store.models.people import Membership, OneTimeLink, Person, SignedInSession, Team
from skavo.store.models.phones import Device, KeptProfile, LeftInterview, PairingCode, StudyKey
from skavo.store.models.registers import BranchShare, Unit, UnitChange, UnitEvent, UnitKind
from skavo.store.models.samples import Sample, SampleUnit
from skavo.store.models.study import KeptModule, Questionnaire, Release, Study
from skavo.store.models.visits import Visit, VisitAttempt, VisitList

__all__ = [
    "Access", "Addressee", "Answering", "Base", "Batch", "BranchShare", "Counter", "Device", "Event", "Interview", "Job", "KeptModule",
    "KeptProfile", "Keying", "LeftInterview", "Link", "MapSheet", "MatchDecision", "Membership", "Moment", "NamedDataSet", "OneTimeLink", "OutsideTable",
    "PairingCode", "PaperForm", "Person", "PlanState", "PlanStep", "Questionnaire", "Release", "Revision", "Sample", "SampleUnit", "SavedLayer", "SavedTable", "SentTable", "ShelfFile",
    "SignedInSession", "SourceCheck", "StoredFile", "Study", "StudyKey", "Team", "Unit", "UnitChange", "UnitEvent", "UnitKind", "Visit",
    "VisitAttempt", "VisitList", "new_identity", "now",
]  # fmt: skip
