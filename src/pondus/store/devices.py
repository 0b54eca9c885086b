"""Who comes in: teachers' passphrases, codes for one device, devices that are signed in.

Of a code and of a device's token only the SHA-256 is kept; both are random and long, so nothing slower is needed.
Passphrases are people's, and kept by argon2.
"""

import secrets
import sys
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from hashlib import sha256
from itertools import chain, count
from threading import BoundedSemaphore
from uuid import UUID, uuid4

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError
from sqlalchemy import update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, func, or_, select
from zxcvbn import zxcvbn

from pondus.core.errors import BadInput
from pondus.core.group.people import may_turn
from pondus.core.in_order import as_looked_for
from pondus.core.views.access import (
    INVITATION_LASTS,
    SESSION_LASTS,
    DeviceFacts,
    DeviceRole,
    attempts_allowed,
    check_passphrase,
    guesses_allowed,
)
from pondus.store.device_tables import DeviceSessionRow, InvitationRow, SignInRow, TeacherKeyRow
from pondus.store.errors import NotFound, TooOften
from pondus.store.limits import asked_lately, asked_this_minute, count_asked
from pondus.store.people import person
from pondus.store.tables import InstrumentRow, PersonRow, TuningRow, now

SEEN_EVERY = timedelta(minutes=1)
"""How exactly it is kept when a device was last seen."""
FORGOTTEN_AFTER = timedelta(days=30)
"""Devices that were ended, and codes, are listed no more and forgotten."""
LEAST_GUESSES_LOG10, LONGEST_GUESSED = 8.0, 72
"""A passphrase that fewer guesses find, as the package zxcvbn reckons, is refused; it looks at no more of one than that."""
_AT_ONCE = BoundedSemaphore(2)
"""Each takes 64 MB and a moment of a core."""


@dataclass(frozen=True)
class LetIn:
    """A device that was just let in; ``token`` is told to it alone, and nowhere kept."""

    session: UUID
    token: str
    role: DeviceRole
    lasts: timedelta


def sign_in_row(session: Session) -> SignInRow:
    """How people sign in; made when it is first asked for."""
    row = session.get(SignInRow, 1)
    if row is None:
        put = insert(SignInRow).values(id=1, studio=secrets.token_hex(4), locked=False)
        session.execute(put.on_conflict_do_nothing())
        row = session.get_one(SignInRow, 1)
    return row


@cache
def _hasher() -> PasswordHasher:
    return PasswordHasher()


@cache
def _nobodys_hash() -> str:
    return _hasher().hash(secrets.token_urlsafe(24))


def _digest(secret: str) -> str:
    return sha256(secret.encode()).hexdigest()


# --- passphrases ------------------------------------------------------------------------------------------------------


def has_teacher(session: Session) -> bool:
    """Whether any teacher has a passphrase."""
    return session.exec(select(TeacherKeyRow.person_id).limit(1)).first() is not None


def teachers(session: Session) -> list[str]:
    """The teachers who have a passphrase, by name."""
    asked = select(PersonRow.name).join(TeacherKeyRow, col(TeacherKeyRow.person_id) == col(PersonRow.id))
    return list(session.exec(asked.order_by(col(PersonRow.name))).all())


def set_passphrase(session: Session, name: str, passphrase: str) -> PersonRow:
    """Give a teacher a passphrase, and end every device's session. Someone new to the roll joins it as a teacher.

    Raises BadInput for a passphrase that can't be used, or a name that isn't a teacher's.
    """
    row = _teacher_named(session, name)
    set_passphrase_of(session, row, passphrase)
    return row


def set_passphrase_of(session: Session, row: PersonRow, passphrase: str) -> None:
    """As `set_passphrase`, of someone on the roll."""
    check_passphrase(passphrase, name=row.name)
    if zxcvbn(passphrase[:LONGEST_GUESSED], user_inputs=[row.name, "pondus"])["guesses_log10"] < LEAST_GUESSES_LOG10:
        raise BadInput(
            "passphrase", "That one is among the first that anyone would try; take four words that come to your mind."
        )
    with _AT_ONCE:
        kept = _hasher().hash(passphrase)
    put = insert(TeacherKeyRow).values(person_id=row.id, hash=kept, changed_at=now())
    session.execute(
        put.on_conflict_do_update(
            index_elements=["person_id"], set_={"hash": put.excluded.hash, "changed_at": put.excluded.changed_at}
        )
    )
    end_all(session)


def _teacher_named(session: Session, name: str) -> PersonRow:
    plain = name.strip()
    if not plain:
        raise BadInput("name", "Whose passphrase is it? Give a name.")
    found = session.exec(
        select(PersonRow).where(func.lower(PersonRow.name) == plain.lower(), col(PersonRow.retired_at).is_(None))
    ).all()
    teachers = [row for row in found if row.role == "teacher"]
    if len(teachers) > 1:
        raise BadInput("name", f"Two teachers are called “{plain}”; give one of them another name on the roll first.")
    if teachers:
        return teachers[0]
    if found:
        raise BadInput("name", f"“{plain}” is on the roll, and not as a teacher; change that on the roll first.")
    row = PersonRow(id=uuid4(), name=plain, role="teacher")
    session.add(row)
    session.flush()
    return row


def count_attempt(session: Session, of: str) -> None:
    """Count one attempt to come in: from an address, or by a device that was in before. Counted for all servers together, and
    for each apart, so that nobody's attempts keep others out. Raises TooOften.
    """
    bucket = f"sign-in {of}"[:80]
    count_asked(session, bucket, at_most=attempts_allowed(asked_lately(session, bucket)))


def check_account(session: Session, name: str) -> None:
    """Whether strangers may try a name's passphrase once more: the more they were wrong, the longer they wait.

    Raises TooOften.
    """
    bucket = _account(name)
    if asked_this_minute(session, bucket) >= guesses_allowed(asked_lately(session, bucket)):
        raise TooOften("Too many have tried that name with a wrong passphrase. Wait a minute, or ask for a code.")


def count_wrong(session: Session, name: str) -> None:
    """A stranger was wrong about a name's passphrase."""
    count_asked(session, _account(name), at_most=sys.maxsize)


def _account(name: str) -> str:
    return f"wrong for {_digest(name.strip().lower())[:32]}"


def device_known_before(session: Session, token: str, name: str) -> UUID | None:
    """The session, ended or not, that a device shows it once had as the teacher of that name."""
    asked = (
        select(DeviceSessionRow.id)
        .join(PersonRow, col(PersonRow.id) == col(DeviceSessionRow.person_id))
        .where(DeviceSessionRow.token_hash == _digest(token), func.lower(PersonRow.name) == name.strip().lower())
    )
    return session.exec(asked).first()


def is_teacher_named(session: Session, person_id: UUID | None, name: str) -> bool:
    """Whether that is what this teacher is called."""
    row = None if person_id is None else session.get(PersonRow, person_id)
    return row is not None and row.name.lower() == name.strip().lower()


def is_a_teachers(session: Session, passphrase: str, person_id: UUID | None) -> bool:
    """Whether a passphrase is this teacher's; any teacher's, for one who has none yet or isn't known (None)."""
    own = session.get(TeacherKeyRow, person_id) if person_id is not None else None
    those = [own.hash] if own is not None else session.exec(select(TeacherKeyRow.hash)).all()
    return any(_fits(kept, passphrase) for kept in those)


def _fits(kept: str, passphrase: str) -> bool:
    with _AT_ONCE:
        try:
            return _hasher().verify(kept, passphrase)
        except (Argon2Error, InvalidHashError):
            return False


def teacher_with(session: Session, name: str, passphrase: str) -> PersonRow | None:
    """The teacher whose name and passphrase these are. It takes as long whether there is such a teacher or not."""
    row = session.exec(
        select(PersonRow)
        .join(TeacherKeyRow, col(TeacherKeyRow.person_id) == col(PersonRow.id))
        .where(func.lower(PersonRow.name) == name.strip().lower(), col(PersonRow.retired_at).is_(None))
        .where(PersonRow.role == "teacher")
    ).first()
    kept = _nobodys_hash() if row is None else session.get_one(TeacherKeyRow, row.id).hash
    return row if _fits(kept, passphrase) else None


# --- codes ------------------------------------------------------------------------------------------------------------


def invite(session: Session, role: DeviceRole, *, person_id: UUID | None, name: str) -> tuple[InvitationRow, str]:
    """A code that lets one device in, once, within ten minutes; the code itself is told here alone. Raises BadInput,
    NotFound.
    """
    if role == "student" and person_id is None:
        raise BadInput("person_id", "Whose device is it? A student's device is for someone of the roll.")
    known_as = name.strip()
    if person_id is not None:
        row = person(session, person_id)
        known_as = row.name
        if role == "student" and row.role != "player":
            raise BadInput("role", f"{row.name} is on the roll as {row.role}, not as a player.")
        if role == "teacher" and row.role != "teacher":
            raise BadInput("role", f"{row.name} isn't a teacher on the roll; let the device in as a helper's.")
    elif role == "teacher":
        raise BadInput("person_id", "Which teacher's device is it? Choose one of the roll.")
    session.execute(delete(InvitationRow).where(col(InvitationRow.ends_at) < now() - FORGOTTEN_AFTER))
    code = secrets.token_urlsafe(18)
    kept = InvitationRow(
        code_hash=_digest(code),
        role=role,
        person_id=person_id,
        name=known_as or _unnamed(session),
        ends_at=now() + INVITATION_LASTS,
    )
    session.add(kept)
    session.flush()
    return kept, code


def _unnamed(session: Session) -> str:
    """What a helper who isn't on the roll is known as; two are never the same."""
    codes = select(InvitationRow.name).where(col(InvitationRow.used_at).is_(None))
    signed_in = select(DeviceSessionRow.name).where(col(DeviceSessionRow.ended_at).is_(None))
    taken = {*session.exec(codes).all(), *session.exec(signed_in).all()}
    names = chain(["a helper"], (f"helper {number}" for number in count(2)))
    return next(name for name in names if name not in taken)


def use_code(session: Session, code: str, *, kind: str) -> LetIn | None:
    """Let a device in by a code; None where the code is unknown, out of date or used: it is used up at once, by one alone."""
    used = session.execute(
        update(InvitationRow)
        .where(col(InvitationRow.code_hash) == _digest(code), col(InvitationRow.used_at).is_(None))
        .where(col(InvitationRow.ends_at) > now())
        .values(used_at=now())
        .returning(col(InvitationRow.role), col(InvitationRow.person_id), col(InvitationRow.name))
        .execution_options(synchronize_session=False)
    ).first()
    if used is None:
        return None
    return let_in(session, used[0], person_id=used[1], name=used[2], kind=kind)


# --- devices ----------------------------------------------------------------------------------------------------------


def let_in(session: Session, role: DeviceRole, *, person_id: UUID | None, name: str, kind: str) -> LetIn:
    """Begin a device's session; those that ended long ago are forgotten then."""
    session.execute(delete(DeviceSessionRow).where(col(DeviceSessionRow.ends_at) < now() - FORGOTTEN_AFTER))
    token, lasts = secrets.token_urlsafe(32), SESSION_LASTS[role]
    row = DeviceSessionRow(
        token_hash=_digest(token), role=role, person_id=person_id, name=name[:80], kind=kind[:40], ends_at=now() + lasts
    )
    session.add(row)
    session.flush()
    return LetIn(row.id, token, role, lasts)


def device_with(session: Session, token: str) -> DeviceFacts | None:
    """The device whose token this is, if it is signed in; that it was seen is kept, to the minute."""
    found = session.exec(
        select(DeviceSessionRow, PersonRow)
        .outerjoin(PersonRow, col(PersonRow.id) == col(DeviceSessionRow.person_id))
        .where(DeviceSessionRow.token_hash == _digest(token))
    ).first()
    if found is None:
        return None
    row, who = found
    moment = now()
    if row.ended_at is None and row.ends_at <= moment:
        end_expired(session)
    if row.ended_at is not None or row.ends_at <= moment:
        return None
    if who is not None and who.retired_at is not None:
        return None
    if row.role == "teacher" and (who is None or who.role != "teacher"):
        return None
    if moment - row.seen_at > SEEN_EVERY:
        session.execute(
            update(DeviceSessionRow)
            .where(col(DeviceSessionRow.id) == row.id)
            .values(seen_at=moment)
            .execution_options(synchronize_session=False)
        )
    # A helper who isn't on the roll may turn what any helper may.
    may = may_turn(who.role, who.cleared) if who is not None else may_turn("helper", ())
    return DeviceFacts(row.role, row.id, row.person_id, row.name if who is None else who.name, may)


def still_signed_in(session: Session, sessions: Collection[UUID]) -> set[UUID]:
    """Those of these sessions that hold now."""
    if not sessions:
        return set()
    asked = (
        select(DeviceSessionRow.id)
        .outerjoin(PersonRow, col(PersonRow.id) == col(DeviceSessionRow.person_id))
        .where(col(DeviceSessionRow.id).in_(sessions), col(DeviceSessionRow.ended_at).is_(None))
        .where(DeviceSessionRow.ends_at > now(), col(PersonRow.retired_at).is_(None))
        .where(or_(DeviceSessionRow.role != "teacher", PersonRow.role == "teacher"))
    )
    return set(session.exec(asked).all())


def devices(session: Session) -> list[DeviceSessionRow]:
    """The devices that are signed in, the one seen last first."""
    asked = select(DeviceSessionRow).where(col(DeviceSessionRow.ended_at).is_(None), DeviceSessionRow.ends_at > now())
    return list(session.exec(asked.order_by(col(DeviceSessionRow.seen_at).desc())).all())


def end(session: Session, session_id: UUID) -> None:
    """End one device's session; ended already is fine. Raises NotFound."""
    row = session.get(DeviceSessionRow, session_id)
    if row is None:
        raise NotFound("There is no such device; look at the list.")
    row.ended_at = row.ended_at or now()
    session.add(row)
    session.flush()


def end_all(session: Session) -> None:
    """End every device's session, and every code."""
    still = col(DeviceSessionRow.ended_at).is_(None)
    session.execute(update(DeviceSessionRow).where(still).values(ended_at=now()))
    session.execute(update(InvitationRow).where(col(InvitationRow.used_at).is_(None)).values(used_at=now()))


def end_expired(session: Session) -> None:
    """What is over is marked as ended, so that it doesn't come to life again when the clock is set back."""
    moment = now()
    over = (col(DeviceSessionRow.ended_at).is_(None), col(DeviceSessionRow.ends_at) <= moment)
    session.execute(update(DeviceSessionRow).where(*over).values(ended_at=moment).execution_options(synchronize_session=False))
    late = (col(InvitationRow.used_at).is_(None), col(InvitationRow.ends_at) <= moment)
    session.execute(update(InvitationRow).where(*late).values(used_at=moment).execution_options(synchronize_session=False))


def last_seen(session: Session) -> dict[UUID | str, datetime]:
    """When a device of each who is signed in was last seen, by person; of those who aren't on the roll by name."""
    found = session.execute(
        select(DeviceSessionRow.person_id, DeviceSessionRow.name, func.max(DeviceSessionRow.seen_at))
        .where(col(DeviceSessionRow.ended_at).is_(None), DeviceSessionRow.ends_at > now())
        .group_by(col(DeviceSessionRow.person_id), col(DeviceSessionRow.name))
    ).all()
    return {person_id or name: at for person_id, name, at in found}


def has_instrument(session: Session, person_id: UUID, instrument_id: UUID) -> bool:
    """Whether an instrument, or the one it stands in for, is in this person's keeping."""
    real = select(InstrumentRow.simulated_of).where(InstrumentRow.id == instrument_id).scalar_subquery()
    asked = select(InstrumentRow.id).where(
        or_(col(InstrumentRow.id) == instrument_id, col(InstrumentRow.id) == real),
        InstrumentRow.player_id == person_id,
        col(InstrumentRow.retired_at).is_(None),
    )
    return session.exec(asked.limit(1)).first() is not None


def instruments_of(session: Session, person_id: UUID) -> list[UUID]:
    """The instruments in this person's keeping, by label."""
    asked = select(InstrumentRow).where(
        InstrumentRow.player_id == person_id, col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None)
    )
    return [row.id for row in sorted(session.exec(asked).all(), key=lambda row: as_looked_for(row.label))]


def instrument_of_tuning(session: Session, tuning_id: UUID) -> UUID | None:
    """Which instrument a tuning is of; None where there is no such tuning."""
    return session.exec(select(TuningRow.instrument_id).where(TuningRow.id == tuning_id)).first()
