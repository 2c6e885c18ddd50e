"""Shapes of requests that several resources share."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class StudyPath(BaseModel):
    study_id: int


class QuestionnairePath(BaseModel):
    questionnaire_id: int


class DataSetPath(BaseModel):
    data_set_id: int


class InterviewPath(BaseModel):
    interview_id: int


class Body(BaseModel):
    """What comes in is read strictly: a misspelt name is an error."""

    model_config = ConfigDict(extra="forbid")
