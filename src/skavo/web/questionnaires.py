"""Questionnaires: the script, workbooks in and out, releases."""

from __future__ import annotations

from flask import Response, request
from pydantic import BaseModel, Field

from skavo.core.questionnaire.hints import Standard
from skavo.core.questionnaire.script import NotedByPhone, Script
from skavo.core.questionnaire.telling import telling
from skavo.services import asides, drafts, workbooks
from skavo.services import releases as releases_service
from skavo.services.asides import AsideIn
from skavo.services.drafts import ComparisonOut, CompiledOut, Draft, KindOut, Saved
from skavo.services.flow import FlowOut, show_flow
from skavo.services.jobs import JobOut
from skavo.services.paper import PaperIn, order_paper
from skavo.services.releases import ReleaseOut, list_releases
from skavo.services.releases import make_release as release_script
from skavo.services.workbooks import Form, WorkbookOut
from skavo.web.routing import Resource, attachment, desk
from skavo.web.shapes import Body, QuestionnairePath, StudyPath

api = Resource("questionnaires")


class ScriptIn(Body):
    """`version` is the one the writer had; another one now means that somebody else wrote meanwhile."""

    version: int
    script: Script


class QuestionnaireIn(Body):
    title: str = Field(min_length=1, max_length=200)
    languages: list[str] = Field(default=["en"], min_length=1, max_length=12)


class TellingIn(Body):
    paradata: NotedByPhone
    languages: list[str] = Field(min_length=1, max_length=100)


class TellingOut(BaseModel):
    """`wording` by language; empty in languages that there are no words in."""

    wording: dict[str, str]


class BlankQuery(BaseModel):
    """`languages` are their tags, a comma between them, the first one first."""

    languages: str = Field(
        default="en", pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*(,[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*){0,19}$"
    )


class ReleaseIn(Body):
    version: int
    remark: str = Field(default="", max_length=2000)
    practice: bool = Field(default=False, description="Whether it is for practice only: no interview of it counts.")


class ReleaseNumberPath(QuestionnairePath):
    number: int = Field(ge=1, le=2**31)


class SignatureIn(Body):
    remark: str = Field(default="", max_length=1000)


class WithdrawalIn(Body):
    """`why` no interview is to begin with it any more; an empty reason gives it out again."""

    why: str = Field(max_length=1000)


class ComparisonQuery(BaseModel):
    """`release` is the number of the one that the draft is held against; 0 the newest."""

    release: int = 0


class WorkbookQuery(BaseModel):
    """`form` is xlsx, or csv for a zip of .csv files."""

    form: Form = "xlsx"


@api.route_for("get", "/kinds", needs="signed-in", returns=list[KindOut])
def kinds() -> list[KindOut]:
    return drafts.list_kinds()


@api.route_for("post", "/paradata-telling", needs="signed-in", returns=TellingOut)
def tell(body: TellingIn) -> TellingOut:
    """The statement that tells respondents what the phone notes, worded from what is chosen."""
    return TellingOut(wording=telling(body.paradata, body.languages))


@api.route_for("post", "/studies/<int:study_id>/questionnaires", needs="script.write", returns=Draft, status=201)
def create(path: StudyPath, body: QuestionnaireIn) -> Draft:
    return drafts.make_questionnaire(desk(), path.study_id, body.title, body.languages)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>", needs="script.read", returns=Draft)
def show(path: QuestionnairePath) -> Draft:
    return drafts.show_draft(desk(), path.questionnaire_id)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/compiled", needs="script.read", returns=CompiledOut)
def compiled(path: QuestionnairePath) -> CompiledOut:
    return drafts.compile_draft(desk(), path.questionnaire_id)


@api.route_for("put", "/questionnaires/<int:questionnaire_id>/script", needs="script.write", returns=Saved)
def save(path: QuestionnairePath, body: ScriptIn) -> Saved:
    return drafts.save_script(desk(), path.questionnaire_id, body.script, body.version)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/workbook", needs="script.read")
def take_out_workbook(path: QuestionnairePath, query: WorkbookQuery) -> Response:
    made = workbooks.workbook_of(desk(), path.questionnaire_id, query.form)
    return Response(made.content, mimetype=made.type, headers=attachment(made.name))


@api.route_for("get", "/blank-workbook", needs="signed-in")
def take_out_blank(query: BlankQuery) -> Response:
    """A workbook without a line, every kind and column explained."""
    made = workbooks.blank(query.languages.split(","))
    return Response(made.content, mimetype=made.type, headers=attachment(made.name))


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/workbook", needs="script.write", returns=WorkbookOut)
def read_in_workbook(path: QuestionnairePath) -> WorkbookOut:
    """Read a workbook sent as the body; nothing is replaced until its script is saved."""
    return workbooks.read_in_workbook(desk(), path.questionnaire_id, request.get_data(cache=False))


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/comparison", needs="script.read", returns=ComparisonOut)
def compare(path: QuestionnairePath, query: ComparisonQuery) -> ComparisonOut:
    return drafts.compare_draft(desk(), path.questionnaire_id, query.release)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/set-aside", needs="script.write", returns=Draft)
def set_aside(path: QuestionnairePath, body: AsideIn) -> Draft:
    return asides.set_aside(desk(), path.questionnaire_id, body)


@api.route_for("get", "/studies/<int:study_id>/standard", needs="script.read", returns=Standard)
def standard(path: StudyPath) -> Standard:
    return asides.show_standard(desk(), path.study_id)


@api.route_for("put", "/studies/<int:study_id>/standard", needs="script.write", returns=Standard)
def write_standard(path: StudyPath, body: Standard) -> Standard:
    return asides.write_standard(desk(), path.study_id, body)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/flow", needs="script.read", returns=FlowOut)
def flow(path: QuestionnairePath) -> FlowOut:
    return show_flow(desk(), path.questionnaire_id)


@api.route_for("post", "/questionnaires/<int:questionnaire_id>/papers", needs="script.read", returns=JobOut, status=202)
def on_paper(path: QuestionnairePath, body: PaperIn) -> JobOut:
    return order_paper(desk(), path.questionnaire_id, body)


@api.route_for("get", "/questionnaires/<int:questionnaire_id>/releases", needs="script.read", returns=list[ReleaseOut])
def releases(path: QuestionnairePath) -> list[ReleaseOut]:
    return list_releases(desk(), path.questionnaire_id)


@api.route_for(
    "get", "/questionnaires/<int:questionnaire_id>/releases/<int:number>/script", needs="script.read", returns=Script
)
def script_of_release(path: ReleaseNumberPath) -> Script:
    return releases_service.script_of_release(desk(), path.questionnaire_id, path.number)


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/releases/<int:number>/signature", needs="release.sign",
    returns=ReleaseOut,
)  # fmt: skip
def sign_off(path: ReleaseNumberPath, body: SignatureIn) -> ReleaseOut:
    return releases_service.sign_off(desk(), path.questionnaire_id, path.number, body.remark)


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/releases/<int:number>/withdrawal", needs="release.make",
    returns=ReleaseOut,
)  # fmt: skip
def withdraw(path: ReleaseNumberPath, body: WithdrawalIn) -> ReleaseOut:
    return releases_service.withdraw(desk(), path.questionnaire_id, path.number, body.why)


@api.route_for(
    "post", "/questionnaires/<int:questionnaire_id>/releases", needs="release.make", returns=ReleaseOut, status=201
)
def make_release(path: QuestionnairePath, body: ReleaseIn) -> ReleaseOut:
    return release_script(desk(), path.questionnaire_id, body.version, body.remark, practice=body.practice)
