"""Tables of practice: one row for each go at a drill, one for each answer that was scored. Only of people who are on
the roll: whoever practises without being chosen leaves nothing.
"""

from datetime import date, datetime
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import BigInteger, CheckConstraint, Index, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel

from pondus.store.tables import FROM_1990, moment


class PracticeRow(SQLModel, table=True):
    """One go at a drill, made again from its ``seed``, its ``setup`` and its answers. ``known``: what was known of the
    person when it began; ``reached``: level and threshold it came to so far. ``day`` is the studio's day it began.
    """

    __tablename__ = "practice"
    __table_args__ = (
        Index("practice_of_person", "person_id", "began_at"),
        CheckConstraint(f"began_at >= {FROM_1990}", "practice_began_at"),
    )
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    person_id: UUID = Field(foreign_key="person.id")
    drill: str = Field(max_length=24)
    setup: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    seed: int = Field(sa_type=BigInteger)
    known: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    reached: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    day: date
    began_at: datetime = moment()
    ended_at: datetime | None = moment(default=False)


class PracticeAnswerRow(SQLModel, table=True):
    """One answer that was scored, the ``number``-th of its go from 0; its id is the client's, so that it is never scored twice.
    ``cents``: how large the difference was; ``outcome``: what hands came to.
    """

    __tablename__ = "practice_answer"
    __table_args__ = (
        UniqueConstraint("practice_id", "number"),
        CheckConstraint("number >= 0 and number < 1000", "practice_answer_number"),
        CheckConstraint("cents > 0 and cents <= 1200", "practice_answer_cents"),
        CheckConstraint("seconds >= 0 and seconds <= 86400", "practice_answer_seconds"),
    )
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    practice_id: UUID = Field(foreign_key="practice.id")
    number: int
    item: str = Field(max_length=60)
    answer: dict[str, Any] = Field(default_factory=dict, sa_type=JSONB)
    right: bool
    said: str = Field(default="", max_length=2000)
    cents: float | None = None
    outcome: dict[str, Any] | None = Field(default=None, sa_type=JSONB)
    seconds: float | None = None
    at: datetime = moment()
