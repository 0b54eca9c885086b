"""Tables of who comes in: teachers' passphrases, codes that let one device in, devices that are signed in.

They hold no secret itself, only what a secret is recognised by. None of them goes into a studio's file, and none of the
codes and devices comes back with a backup.
"""

from datetime import datetime
from uuid import UUID, uuid4

from sqlmodel import Field, SQLModel

from pondus.core.views.access import DeviceRole
from pondus.store.tables import checked, moment, one_of


class SignInRow(SQLModel, table=True):
    """The one row of how people sign in. ``studio``: what the studio's cookies are named after. ``locked``: people sign
    in at the studio's own computer too.
    """

    __tablename__ = "sign_in"
    id: int = Field(default=1, primary_key=True)
    studio: str = Field(max_length=16)
    locked: bool = False


class TeacherKeyRow(SQLModel, table=True):
    """A teacher's passphrase, as argon2 keeps it."""

    __tablename__ = "teacher_key"
    person_id: UUID = Field(foreign_key="person.id", primary_key=True)
    hash: str = Field(max_length=200)
    changed_at: datetime = moment()


class InvitationRow(SQLModel, table=True):
    """A code that lets one device in once, for a while. ``person_id`` None: a helper who isn't on the roll."""

    __tablename__ = "invitation"
    __table_args__ = checked("invitation", role=DeviceRole)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    code_hash: str = Field(max_length=64, unique=True)
    role: DeviceRole = one_of(DeviceRole, 10)
    person_id: UUID | None = Field(default=None, foreign_key="person.id")
    name: str = Field(default="", max_length=80)
    ends_at: datetime = moment()
    used_at: datetime | None = moment(default=False)


class DeviceSessionRow(SQLModel, table=True):
    """A device that was let in, until it ends by itself or is ended. ``kind``: what sort of device it says it is."""

    __tablename__ = "device_session"
    __table_args__ = checked("device_session", role=DeviceRole)
    id: UUID = Field(default_factory=uuid4, primary_key=True)
    token_hash: str = Field(max_length=64, unique=True)
    role: DeviceRole = one_of(DeviceRole, 10)
    person_id: UUID | None = Field(default=None, foreign_key="person.id", index=True)
    name: str = Field(default="", max_length=80)
    kind: str = Field(default="", max_length=40)
    began_at: datetime = moment()
    seen_at: datetime = moment()
    ends_at: datetime = moment()
    ended_at: datetime | None = moment(default=False)


UNSHARED = frozenset({"sign_in", "teacher_key", "invitation", "device_session"})
"""What stays out of a studio's file."""
