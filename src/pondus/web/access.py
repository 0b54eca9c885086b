"""Who asks, and whether they may: the one place where the core's table of device roles is applied.

Every view has its act in `ACTS`; one that has none is refused, so that a new view can't be forgotten. Where a role
reaches only its own, the instrument that is asked for is found here too. Nobody signs in at the studio's own computer
(the loopback door) unless the teacher has locked it; that goes by the socket a request came in at, never by an address
it tells.
"""

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal
from uuid import UUID

from flask import Flask, Request, Response, current_app, g, request

from pondus.core.views.access import UNLOCKED, Act, DeviceFacts, Reach, name_shown, reach_of
from pondus.store import devices as device_store
from pondus.store.database import session_on
from pondus.store.errors import StoreAway
from pondus.store.tables import FifthCheckRow, MoveRow, ReadingRow
from pondus.web.doors import TurnedAway

Door = Literal["loopback", "shared", "proxied"]
"""Where a server listens: the studio's own computer alone; HTTPS for the room; behind a reverse proxy."""
LOCK_KNOWN_FOR_SECONDS = 1.0
STILL_IN_SECONDS = 5.0
"""How often what stays open looks whether its device is signed in still."""
OPEN = frozenset(
    {"page", "devices.alive", "devices.me", "devices.sign_in", "devices.join", "devices.sign_out", "devices.authority"}
)
"""What a stranger may ask for: the page without anything in it, and the way in."""
STUDIO_HEADER = "Pondus-Studio"
"""In every answer: which studio it is of. In a page's requests: which one is meant."""
ANOTHER_STUDIO = "Another studio answers here now; what was meant for the one before waits until that one is back."
SIGN_IN = "Sign in first: as a teacher with your passphrase, or with a code that a teacher shows."
NOT_YOURS = "That isn't for this device; ask a teacher."


def _of_instrument_change(asked: Request) -> Act:
    """Whoever tunes says that the bridge leans; all else of an instrument is the roll's."""
    told = asked.get_json(silent=True)
    return "tune" if isinstance(told, dict) and set(told) <= {"bridge"} else "keep-roll"


ACTS: Mapping[str, Act | Callable[[Request], Act]] = {
    "openapi.spec": "reckon",
    "instruments.list_kinds": "reckon",
    "fifths.temperaments": "reckon",
    "fifths.ensemble": "reckon",
    "judgement.advise": "reckon",
    "judgement.plan": "reckon",
    "hearing.hear_recording": "reckon",
    "hearing.hear_double_stop": "reckon",
    "hearing.hear_harmonic": "reckon",
    "hearing.check_of_microphone": "reckon",
    "tones.describe_tone": "reckon",
    "tones.tone_file": "reckon",
    "listening.describe": "reckon",
    "listening.hear_so_far": "listen",
    "settings.studio_settings": "reckon",
    "changes.changes": "see-changes",
    "__flask_sock.listen": "listen",
    "__flask_sock.live": "practise",
    "__flask_sock.practice_live": "practise",
    "instruments.list_instruments": "see-instruments",
    "instruments.add_instrument": "keep-roll",
    "instruments.change_instrument": _of_instrument_change,
    "instruments.change_string": "tune",
    "tunings.begin_tuning": "tune",
    "tunings.sit_down": "tune",
    "tunings.back_to_before": "tune",
    "tunings.bench": "tune",
    "tunings.list_tunings": "tune",
    "tunings.change_tuning": "tune",
    "settings.instrument_settings": "tune",
    "settings.change_instrument_settings": "keep-settings",
    "settings.change_studio_settings": "keep-settings",
    "settings.first_zone": "keep-settings",
    "settings.take_a4_today": "keep-settings",
    "classes.steps": "reckon",
    "classes.hear_class": "reckon",
    "classes.stage": "reckon",
    "first_time.looks": "reckon",
    "first_time.begin": "keep-roll",
    "entries.add_reading": "tune",
    "entries.add_move": "tune",
    "entries.answer": "tune",
    "entries.strike_reading": "tune",
    "entries.restore_reading": "tune",
    "entries.strike_move": "tune",
    "entries.restore_move": "tune",
    "fifths.chain_of_tuning": "tune",
    "fifths.add_check": "tune",
    "fifths.add_recording": "tune",
    "fifths.strike_check": "tune",
    "fifths.restore_check": "tune",
    "simulated.begin": "practise",
    "simulated.see": "practise",
    "simulated.act": "practise",
    "simulated.sound": "practise",
    "simulated.display": "practise",
    "practice_progress.practice_room": "practise",
    "practice.begin": "practise",
    "practice.question": "practise",
    "practice.answer": "practise",
    "practice.end": "practise",
    "practice.hands": "practise",
    "practice.sound": "practise",
    "practice.seen": "practise",
    "practice_progress.ready": "see-progress",
    "practice_progress.lesson": "see-progress",
    "cards.card": "see-card",
    "paper.cards": "keep-roll",
    "paper.cards_wanted": "keep-roll",
    "paper.chart": "reckon",
    "paper.morning_sheet": "see-morning",
    "paper.ledger_page": "see-ledger",
    "paper.shopping_pdf": "keep-care",
    "cards.home_card": "see-card",
    "paper.case_list": "see-card",
    "paper.told_json": "see-card",
    "paper.told_pdf": "see-card",
    "morning.sweep": "see-morning",
    "morning.hear_instrument": "hear-for-morning",
    "stations.plan": "see-morning",
    "stations.take": "take-in-hand",
    "stations.come": "come",
    "stations.add_station": "keep-morning",
    "stations.as_last_time": "keep-morning",
    "stations.change_station": "keep-morning",
    "stations.remove_station": "keep-morning",
    "people.list_people": "keep-people",
    "people.add_person": "keep-people",
    "people.change_person": "keep-people",
    "people.persons_file": "keep-people",
    "people.places_of_person": "keep-people",
    "people.erase_person": "keep-people",
    "ledger.instrument_ledger": "see-ledger",
    "care.care_book": "keep-care",
    "care.add_care": "keep-care",
    "care.strike_care": "keep-care",
    "care.restore_care": "keep-care",
    "care.add_air": "keep-care",
    "care.strike_air": "keep-care",
    "care.change_care_settings": "keep-care",
    "care.care_calendar": "keep-care",
    "care.shopping_csv": "keep-care",
    "lists.bring": "bring-lists",
    "lists.change_list": "bring-lists",
    "lists.confirm": "bring-lists",
    "lists.undo": "bring-lists",
    "lists.last": "bring-lists",
    "lists.export": "bring-lists",
    "lists.set_aside": "bring-lists",
    "devices.list_devices": "let-devices-in",
    "devices.end_device": "let-devices-in",
    "devices.invite": "let-devices-in",
    "devices.change_passphrase": "let-devices-in",
    "devices.lock": "let-devices-in",
}
NARROWED_BY_THEMSELVES = frozenset(
    {
        "changes.changes",
        "instruments.list_instruments",
        "stations.take",
        "stations.come",
        "__flask_sock.live",
        "__flask_sock.practice_live",
        "__flask_sock.listen",
        "practice_progress.practice_room",
        "practice.begin",
        "practice.question",
        "practice.answer",
        "practice.end",
        "practice.hands",
        "practice.sound",
        "practice.seen",
    }
)
"""Views that reach only a device's own because they look at who asks (`device_here`, `must_reach`)."""
_ENTRIES = {
    "entries.answer": MoveRow,
    "entries.strike_reading": ReadingRow,
    "entries.restore_reading": ReadingRow,
    "entries.strike_move": MoveRow,
    "entries.restore_move": MoveRow,
    "fifths.strike_check": FifthCheckRow,
    "fifths.restore_check": FifthCheckRow,
}


@dataclass
class _SignIn:
    """How people sign in here, as it was a moment ago."""

    studio: str = ""
    locked: bool = False
    known_at: float = float("-inf")


def keep_strangers_out(app: Flask, door: Door) -> None:
    """Look at who asks before anything that they send is read. Raises TurnedAway (401) for a stranger."""
    app.extensions["pondus_door"] = door
    app.extensions["pondus_sign_in"] = _SignIn()

    @app.before_request
    def look() -> None:
        endpoint = request.endpoint
        if endpoint in (None, "page", "devices.alive"):
            return
        g.device = _device_asking()
        _check_studio(endpoint)
        if endpoint not in OPEN and g.device is None:
            raise TurnedAway(401, SIGN_IN)

    @app.after_request
    def say_which(response: Response) -> Response:
        known: _SignIn = app.extensions["pondus_sign_in"]
        if known.studio and request.path.startswith("/api/"):
            response.headers[STUDIO_HEADER] = known.studio
        return response


def _check_studio(endpoint: str | None) -> None:
    """What a page asks of one studio is not done to another that answers at the same address. Raises TurnedAway (421)."""
    meant, known = request.headers.get(STUDIO_HEADER), _sign_in().studio
    if meant and known and meant != known and endpoint not in OPEN:
        raise TurnedAway(421, ANOTHER_STUDIO)


def keep_to_roles(app: Flask) -> None:
    """Look whether who asks may. Raises TurnedAway (403)."""

    @app.before_request
    def look() -> None:
        endpoint = request.endpoint
        if endpoint is None or endpoint in OPEN:
            return
        reach = _reach(g.device, endpoint)
        if reach is None:
            raise TurnedAway(403, NOT_YOURS)
        if reach == "own" and endpoint not in NARROWED_BY_THEMSELVES:
            _check_own(g.device, endpoint)


def _reach(device: DeviceFacts, endpoint: str) -> Reach | None:
    act = ACTS.get(endpoint)
    if act is None:
        return None
    return reach_of(device.role, act(request) if callable(act) else act)


def device_here() -> DeviceFacts:
    """The device that asks; it was found to be one before its view was called."""
    device: DeviceFacts = g.device
    return device


def shown_name(name: str) -> str:
    """Another's name, as the device that asks may show it."""
    return name_shown(name, device_here())


def must_reach(instrument_id: UUID) -> None:
    """Raises TurnedAway where the device that asks reaches only its own, and this isn't."""
    device = device_here()
    if device.role != "student":
        return
    with session_on(current_app.extensions["pondus_engine"]) as session:
        if device.person is None or not device_store.has_instrument(session, device.person, instrument_id):
            raise TurnedAway(403, NOT_YOURS)


def own_instruments() -> frozenset[UUID] | None:
    """The instruments that the device that asks reaches, where those are only its person's own; None: all."""
    device = device_here()
    if device.role != "student":
        return None
    if device.person is None:
        return frozenset()
    with session_on(current_app.extensions["pondus_engine"]) as session:
        return frozenset(device_store.instruments_of(session, device.person))


def still_in() -> bool:
    """Whether the device that asked is signed in still (asked by what stays open for long). While the database is away: yes."""
    try:
        return _device_asking() is not None
    except StoreAway:
        return True


def _check_own(device: DeviceFacts, endpoint: str) -> None:
    with session_on(current_app.extensions["pondus_engine"]) as session:
        instrument_id = _instrument_asked_for(session, endpoint)
        own = device.person is not None and (
            instrument_id is not None and device_store.has_instrument(session, device.person, instrument_id)
        )
    if not own:
        raise TurnedAway(403, NOT_YOURS)


def _instrument_asked_for(session: Any, endpoint: str) -> UUID | None:
    """The instrument that a request is about; None where there is none such, which is nobody's own."""
    told: Mapping[str, Any] = request.view_args or {}
    if endpoint == "tunings.begin_tuning":
        body = request.get_json(silent=True)
        try:
            return UUID(str(body["instrument_id"])) if isinstance(body, dict) else None
        except (KeyError, ValueError):
            return None
    if "instrument_id" in told:
        found: UUID = told["instrument_id"]
        return found
    tuning_id = told.get("tuning_id")
    if endpoint in _ENTRIES:
        row = session.get(_ENTRIES[endpoint], told.get("entry_id") or told.get("check_id"))
        tuning_id = None if row is None else row.tuning_id
    return None if tuning_id is None else device_store.instrument_of_tuning(session, tuning_id)


# --- who asks -----------------------------------------------------------------------------------------------------------


def cookie_named(studio: str, *, is_secure: bool) -> str:
    """The cookie that holds a device's token; each studio's has its own name, so that two on one address don't mix.

    Over HTTPS browsers take it for this very host alone, whatever another on the network says.
    """
    return f"{'__Host-' if is_secure else ''}pondus-{studio}"


def cookie_name() -> str:
    """The cookie of whoever asks."""
    return cookie_named(_sign_in().studio, is_secure=request.is_secure)


def token_here() -> str | None:
    """The token of the device that asks; devices that were let in before cookies were called otherwise show it as they did."""
    studio = _sign_in().studio
    return request.cookies.get(cookie_name()) or request.cookies.get(cookie_named(studio, is_secure=False))


def is_open_here() -> bool:
    """Whether nobody needs to sign in where this request came in."""
    return current_app.extensions["pondus_door"] == "loopback" and not _sign_in().locked


def forget_sign_in() -> None:
    """Ask anew how people sign in: it was changed just now."""
    current_app.extensions["pondus_sign_in"].known_at = float("-inf")


def _device_asking() -> DeviceFacts | None:
    if is_open_here():
        return UNLOCKED
    token = token_here()
    if not token:
        return None
    with session_on(current_app.extensions["pondus_engine"]) as session:
        return device_store.device_with(session, token)


def _sign_in() -> _SignIn:
    known: _SignIn = current_app.extensions["pondus_sign_in"]
    if time.monotonic() - known.known_at < LOCK_KNOWN_FOR_SECONDS:
        return known
    try:
        with session_on(current_app.extensions["pondus_engine"]) as session:
            row = device_store.sign_in_row(session)
            known.studio, known.locked = row.studio, row.locked
    except StoreAway:
        if not known.studio and current_app.extensions["pondus_door"] != "loopback":
            raise
    known.known_at = time.monotonic()
    return known
