"""Coming in and being let in: who this device is, signing in, codes, the devices that are in, the lock."""

import json
import logging
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from typing import NoReturn
from uuid import UUID

import segno
from apiflask import APIBlueprint
from flask import Response, current_app, g, jsonify, request
from sqlmodel import Session

from pondus.contracts.devices import (
    AddressOut,
    AliveOut,
    DeviceOut,
    DevicesOut,
    InvitationOut,
    Join,
    Lock,
    MeOut,
    NewInvitation,
    NewPassphrase,
    SignIn,
)
from pondus.core.errors import BadInput
from pondus.core.views.access import DEVICE_ROLES, MAY, DeviceFacts
from pondus.store import devices as device_store
from pondus.store import stations as station_store
from pondus.store.database import session_on
from pondus.store.device_tables import DeviceSessionRow
from pondus.store.settings import studio_clock, studio_values
from pondus.store.tables import StationRow
from pondus.web.access import cookie_name, device_here, forget_sign_in, is_open_here, token_here
from pondus.web.addresses import counted_address
from pondus.web.described import file_of
from pondus.web.doors import TurnedAway
from pondus.web.transaction import engine_of_app, looking, transaction

blueprint = APIBlueprint("devices", __name__, tag="Devices")
WRONG = "That name and that passphrase don't belong together. Try again, or ask for a code."
NO_CODE = "That code lets nobody in: each lets one device in, once, within ten minutes. Ask for a new one."
NOT_A_TEACHERS = (
    "That isn't the passphrase of a teacher who may do this. Try again; bin/pondus passphrase sets a forgotten one."
)
ASKS_PASSPHRASE = "Give a teacher's passphrase with it: whoever is let in as a teacher sees and does everything."
KNOWN_FOR = timedelta(days=180)
NOT_PLAIN = "Come by https: over plain http a passphrase could be read on the way."


@dataclass(frozen=True)
class Shared:
    """How the room reaches Pondus, as whoever runs it told. ``name``: the one that stays; ``authority``: the studio's
    own, if any.
    """

    name: str
    addresses: tuple[str, ...]
    port: int
    authority: Path | None

    @property
    def urls(self) -> list[str]:
        """The addresses, the one that stays first."""
        port = "" if self.port == 443 else f":{self.port}"
        hosts = [self.name, *(f"[{address}]" if ":" in address else address for address in self.addresses)]
        return [f"https://{host}{port}" for host in hosts if host]


def shared(file: Path | None) -> Shared | None:
    """What stands in the file where it is told; None where Pondus isn't shared."""
    if file is None:
        return None
    try:
        told = json.loads(file.read_text())
        authority = None if told["authority"] is None else Path(told["authority"])
        return Shared(told["name"], tuple(told["addresses"]), int(told["port"]), authority)
    except (OSError, ValueError, KeyError, TypeError):
        return None


def _shared() -> Shared | None:
    return shared(current_app.extensions["pondus_share_file"])


@lru_cache(maxsize=64)
def _qr(text: str) -> str:
    """A QR code as an image's address."""
    return str(segno.make(text, error="m").svg_data_uri(scale=4, border=2, dark="#1d1a16", light="#ffffff"))


@blueprint.get("/alive")
@blueprint.output(AliveOut)
def alive() -> AliveOut:
    """That Pondus answers, and by which start; it asks no database."""
    return AliveOut(run=current_app.extensions["pondus_run"])


@blueprint.get("/me")
@blueprint.output(MeOut)
def me() -> MeOut:
    """Who holds this device, and what may be done on it. Raises BadInput."""
    return _me(g.device)


def _me(device: DeviceFacts | None) -> MeOut:
    with looking() as session:
        studio = {"has_teacher": device_store.has_teacher(session), "zone": studio_values(session).get("zone")}
        own = [] if device is None or device.person is None else device_store.instruments_of(session, device.person)
        station = None if device is None else _station_of(session, device)
    if device is None:
        return MeOut(
            role=None,
            signed_in=False,
            person_id=None,
            name="",
            speaks_to=None,
            can=[],
            reaches_all=False,
            instruments=[],
            station_id=None,
            **studio,
        )
    return MeOut(
        role=device.role,
        signed_in=device.session is not None,
        person_id=device.person,
        name=device.name,
        speaks_to=device.speaks_to,
        can=[act for act, roles in MAY.items() if device.role in roles],
        reaches_all=device.role != "student",
        instruments=own,
        station_id=None if station is None else station.id,
        **studio,
    )


def is_place_of(row: StationRow, device: DeviceFacts) -> bool:
    """Whether a place on the morning is that of a device's person; a helper who isn't on the roll is known by the name."""
    if device.session is None:
        return False
    return row.person_id == device.person if device.person is not None else row.name == device.name


def _station_of(session: Session, device: DeviceFacts) -> StationRow | None:
    if device.role == "student":
        return None
    today = studio_clock(session).today
    return next((row for row in station_store.stations_of(session, today) if is_place_of(row, device)), None)


# --- coming in ----------------------------------------------------------------------------------------------------------


@blueprint.post("/sign-in")
@blueprint.input(SignIn, arg_name="asked")
@blueprint.output(MeOut)
def sign_in(asked: SignIn) -> Response:
    """Sign in as a teacher. What is wrong is told in the same words, and in the same time, whatever it is.

    Raises BadInput, NotFound, Conflict, TurnedAway or TooOften.
    """
    is_known = _count(asked.name)
    with transaction() as session:
        row = device_store.teacher_with(session, asked.name, asked.passphrase)
        if row is None:
            _was_wrong(None if is_known else asked.name)
        _end_this_one(session)
        entered = device_store.let_in(session, "teacher", person_id=row.id, name=row.name, kind=_kind())
    return _entered(entered)


@blueprint.post("/join")
@blueprint.input(Join, arg_name="asked")
@blueprint.output(MeOut)
def join(asked: Join) -> Response:
    """Come in with a code; it is used up. Raises BadInput, NotFound, Conflict, TurnedAway or TooOften."""
    _count()
    with transaction() as session:
        entered = device_store.use_code(session, asked.code.strip(), kind=_kind())
        if entered is None:
            logging.getLogger("pondus").warning("a code was refused: unknown, used or out of date")
            raise TurnedAway(401, NO_CODE)
        _end_this_one(session)
    return _entered(entered)


@blueprint.post("/sign-out")
@blueprint.output(MeOut)
def sign_out() -> Response:
    """End this device's session. Raises BadInput, NotFound or Conflict."""
    with transaction() as session:
        _end_this_one(session)
    g.device = None if not is_open_here() else g.device
    response = jsonify(_me(g.device).model_dump(mode="json"))
    response.delete_cookie(cookie_name(), samesite="Strict", secure=request.is_secure, httponly=True)
    return response


def _count(name: str = "") -> bool:
    """Before anything is looked at, and kept whatever comes of it: one attempt more of this device, if it was in before as the
    teacher of that name, else of its address. Whether it was.
    """
    if current_app.extensions["pondus_door"] != "loopback" and not request.is_secure:
        raise TurnedAway(403, NOT_PLAIN)
    token = request.cookies.get(_known_cookie())
    with session_on(engine_of_app()) as session:  # nobody's page need hear of it
        before = device_store.device_known_before(session, token, name) if token and name else None
        device_store.count_attempt(session, counted_address(request.remote_addr) if before is None else str(before))
        if before is None and name:
            device_store.check_account(session, name)
    return before is not None


def _was_wrong(name: str | None) -> NoReturn:
    """A passphrase didn't fit; ``name``: whose it was said to be, by a stranger. Raises TurnedAway."""
    logging.getLogger("pondus").warning("a sign-in was refused: wrong name or passphrase")
    if name is not None:
        with session_on(engine_of_app()) as session:
            device_store.count_wrong(session, name)
    raise TurnedAway(401, WRONG)


def _check_teacher(passphrase: str | None) -> None:
    """Only who knows a teacher's passphrase lets in more teachers: at a device that is signed in its own teacher's, at the
    studio's own computer, or of a teacher who has none yet, any teacher's. Raises TurnedAway or TooOften.
    """
    _count()
    with looking() as session:
        if not device_store.has_teacher(session) or device_store.is_a_teachers(session, passphrase or "", device_here().person):
            return
    raise TurnedAway(401, ASKS_PASSPHRASE if not passphrase else NOT_A_TEACHERS)


def _known_cookie() -> str:
    """A device keeps this when it is signed out, to show that it is none of the strangers who try passphrases."""
    return f"{cookie_name()}-known"


def _end_this_one(session: Session) -> None:
    token = token_here()
    before = None if not token else device_store.device_with(session, token)
    if before is not None and before.session is not None:
        device_store.end(session, before.session)


def _entered(entered: device_store.LetIn) -> Response:
    with looking() as session:
        device = device_store.device_with(session, entered.token)
    return _with_cookie(jsonify(_me(device).model_dump(mode="json")), entered)


def _with_cookie(response: Response, entered: device_store.LetIn) -> Response:
    response.set_cookie(
        cookie_name(),
        entered.token,
        max_age=entered.lasts,
        httponly=True,
        secure=request.is_secure,
        samesite="Strict",
        path="/",
    )
    response.set_cookie(
        _known_cookie(), entered.token, max_age=KNOWN_FOR, httponly=True, secure=request.is_secure, samesite="Strict", path="/"
    )
    return response


def _kind() -> str:
    """What sort of device it is, as far as it tells."""
    agent = request.headers.get("User-Agent", "")
    if "iPad" in agent or ("Android" in agent and "Mobile" not in agent):
        return "tablet"
    return "phone" if "Mobi" in agent else "computer"


# --- letting in ---------------------------------------------------------------------------------------------------------


@blueprint.get("/devices")
@blueprint.output(DevicesOut)
def list_devices() -> DevicesOut:
    """Who is in, and how others come in."""
    with looking() as session:
        return _devices(session)


def _devices(session: Session) -> DevicesOut:
    here = device_here()
    how = _shared()
    named = device_store.teachers(session)
    authority = _authority(how)
    return DevicesOut(
        devices=[_device_out(row, here) for row in device_store.devices(session)],
        addresses=[] if how is None else _addresses(how, ""),
        own_authority=authority is not None,
        authority_sha256=None if authority is None else _fingerprint(authority),
        teachers=named,
        locked=device_store.sign_in_row(session).locked,
        can_lock=bool(named),
        roles=list(DEVICE_ROLES),
    )


def _addresses(how: Shared, path: str) -> list[AddressOut]:
    return [AddressOut(url=url + path, qr=_qr(url + path), stays=url == how.urls[0] and bool(how.name)) for url in how.urls]


def _device_out(row: DeviceSessionRow, here: DeviceFacts) -> DeviceOut:
    return DeviceOut.model_validate({**row.model_dump(), "here": row.id == here.session})


@blueprint.delete("/devices/<uuid:session_id>")
@blueprint.output(DevicesOut, status_code=200)
def end_device(session_id: UUID) -> DevicesOut:
    """End a device's session; what it had open says so within moments. Raises NotFound."""
    with transaction() as session:
        device_store.end(session, session_id)
        return _devices(session)


@blueprint.post("/invitations")
@blueprint.input(NewInvitation, arg_name="new")
@blueprint.output(InvitationOut)
def invite(new: NewInvitation) -> InvitationOut:
    """A code that lets one device in, once, within ten minutes. Raises BadInput, NotFound, TurnedAway or TooOften."""
    how = _shared()
    if how is None:
        raise BadInput("share", "Pondus isn't shared just now: start it with --share, and other devices can come in.")
    if any(role.asks_passphrase for role in DEVICE_ROLES if role.value == new.role):
        _check_teacher(new.passphrase)
    with transaction() as session:
        row, code = device_store.invite(session, new.role, person_id=new.person_id, name=new.name)
    return InvitationOut(
        id=row.id, role=row.role, name=row.name, code=code, links=_addresses(how, f"/join#{code}"), ends_at=row.ends_at
    )


@blueprint.post("/passphrase")
@blueprint.input(NewPassphrase, arg_name="new")
@blueprint.output(DevicesOut)
def change_passphrase(new: NewPassphrase) -> Response:
    """A teacher's new passphrase; every device's session ends with it, but for this one's.

    Raises BadInput, Conflict, TurnedAway or TooOften.
    """
    here = device_here()
    _check_teacher(new.current)
    with transaction() as session:
        if here.session is not None and not device_store.is_teacher_named(session, here.person, new.name):
            raise TurnedAway(401, WRONG)
        row = device_store.set_passphrase(session, new.name, new.passphrase)
        entered = None
        if here.session is not None:
            entered = device_store.let_in(session, "teacher", person_id=row.id, name=row.name, kind=_kind())
    if entered is not None:
        g.device = DeviceFacts("teacher", entered.session, row.id, row.name)
    with looking() as session:
        response = jsonify(_devices(session).model_dump(mode="json"))
    return response if entered is None else _with_cookie(response, entered)


@blueprint.patch("/lock")
@blueprint.input(Lock, arg_name="asked")
@blueprint.output(DevicesOut)
def lock(asked: Lock) -> DevicesOut:
    """Whether people sign in at the studio's own computer, too. It can be locked once a teacher has a passphrase.

    Raises BadInput.
    """
    with transaction() as session:
        if asked.locked and not device_store.has_teacher(session):
            raise BadInput("locked", "Set a teacher's passphrase first, or nobody could come in any more.")
        row = device_store.sign_in_row(session)
        row.locked = asked.locked
        session.add(row)
        session.flush()
        answer = _devices(session)
    forget_sign_in()
    return answer


# --- the studio's own authority -----------------------------------------------------------------------------------------


def _authority(how: Shared | None) -> bytes | None:
    try:
        return None if how is None or how.authority is None else how.authority.read_bytes()
    except OSError:
        return None


@lru_cache(maxsize=4)
def _fingerprint(pem: bytes) -> str:
    from cryptography import x509
    from cryptography.hazmat.primitives.serialization import Encoding

    der = x509.load_pem_x509_certificate(pem).public_bytes(Encoding.DER)
    digest = sha256(der).hexdigest().upper()
    return ":".join(digest[place : place + 2] for place in range(0, len(digest), 2))


@blueprint.get("/authority.crt")
@blueprint.doc(
    description="The certificate of the studio's own authority, for a device to trust; it holds nothing secret.",
    responses=file_of("application/x-x509-ca-cert", said="The certificate, as PEM."),
)
def authority() -> Response:
    """The certificate that a device trusts once, so that its browser warns no more. Raises TurnedAway."""
    found = _authority(_shared())
    if found is None:
        raise TurnedAway(404, "There is no authority of the studio's own here; devices need not be told anything.")
    headers = {"Content-Disposition": "attachment; filename=pondus.crt"}
    return Response(found, mimetype="application/x-x509-ca-cert", headers=headers)
