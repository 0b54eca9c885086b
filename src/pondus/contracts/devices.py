"""Who comes in: signing in, codes, devices, and how the room reaches Pondus."""

from datetime import datetime
from typing import Annotated
from uuid import UUID

from pydantic import Field

from pondus.contracts.base import ClientId, Contract, Result
from pondus.contracts.people import Name
from pondus.core.judgement.situation import Who
from pondus.core.views.access import LONGEST_PASSPHRASE, Act, DeviceRole, DeviceRoleChoice

Passphrase = Annotated[str, Field(max_length=LONGEST_PASSPHRASE)]


class SignIn(Contract):
    """A teacher's name and passphrase."""

    name: Annotated[str, Field(max_length=80)]
    passphrase: Passphrase


class Join(Contract):
    """A code that a teacher showed."""

    code: Annotated[str, Field(max_length=80)]


class NewInvitation(Contract):
    """Whose device is to be let in, and as what. ``person_id`` null: a helper who isn't on the roll, known as ``name``.
    ``passphrase``: a teacher's, asked for where a teacher is let in.
    """

    role: DeviceRole
    person_id: ClientId | None = None
    name: Annotated[str, Field(max_length=80)] = ""
    passphrase: Passphrase | None = None


class NewPassphrase(Contract):
    """A teacher's new passphrase. ``current``: the one until now; at the studio's own computer any
    teacher's, once there is one.
    """

    name: Name
    current: Passphrase | None = None
    passphrase: Passphrase


class Lock(Contract):
    """Whether people sign in at the studio's own computer, too."""

    locked: bool


class AliveOut(Result):
    """Which start of Pondus answers: whoever started it knows what it was told to say."""

    run: str


class MeOut(Result):
    """Who holds this device. ``role`` null: a stranger, who must sign in. ``can``: what may be done on it;
    ``reaches_all`` false: only with ``instruments``, its person's own. ``station_id``: its person's place this morning.
    ``zone``: the studio's time zone by its name, null before anyone told it.
    """

    role: DeviceRole | None
    signed_in: bool
    person_id: UUID | None
    name: str
    speaks_to: Who | None
    can: list[Act]
    reaches_all: bool
    instruments: list[UUID]
    station_id: UUID | None
    has_teacher: bool
    zone: str | None


class AddressOut(Result):
    """One address under which the room reaches Pondus, as text and as a QR code (an image's address). ``stays``: it is the same
    tomorrow, whatever the network gives this computer.
    """

    url: str
    qr: str
    stays: bool


class InvitationOut(Result):
    """A code for one device: the address to open, as text and as QR codes for each address of Pondus, and until when
    it holds.
    """

    id: UUID
    role: DeviceRole
    name: str
    code: str
    links: list[AddressOut]
    ends_at: datetime


class DeviceOut(Result):
    """A device that is signed in. ``here``: it is the one that asks."""

    id: UUID
    role: DeviceRole
    person_id: UUID | None
    name: str
    kind: str
    began_at: datetime
    seen_at: datetime
    ends_at: datetime
    here: bool


class DevicesOut(Result):
    """Who is in, how others come in, and whether this computer is locked. ``addresses`` empty: Pondus isn't shared.
    ``own_authority``: whether devices can be told to trust the studio's own authority.
    """

    devices: list[DeviceOut]
    addresses: list[AddressOut]
    own_authority: bool
    authority_sha256: str | None
    teachers: list[str]
    locked: bool
    can_lock: bool
    roles: list[DeviceRoleChoice]
