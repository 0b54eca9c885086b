"""Who may see and do what on a device: one table. Rules R94 to R98.

A *device role* is what a device was let in as; it is not the role its person has on the roll. ``own`` reaches only the
instrument that the device's person has (or its simulated stand-in), only their own place on the morning.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal
from uuid import UUID

from pondus.core.entries.instruments import DETAILS
from pondus.core.errors import BadInput
from pondus.core.group.jobs import Clearance
from pondus.core.group.people import Role
from pondus.core.judgement.situation import Who

DeviceRole = Literal["teacher", "helper", "student"]
Act = Literal[
    "reckon",
    "see-changes",
    "listen",
    "see-instruments",
    "tune",
    "practise",
    "see-progress",
    "see-card",
    "see-morning",
    "hear-for-morning",
    "take-in-hand",
    "come",
    "keep-morning",
    "keep-roll",
    "keep-people",
    "keep-settings",
    "see-ledger",
    "keep-care",
    "bring-lists",
    "let-devices-in",
]
Reach = Literal["all", "own"]

MAY: Mapping[Act, Mapping[DeviceRole, Reach]] = {
    "reckon": {"teacher": "all", "helper": "all", "student": "all"},
    "see-changes": {"teacher": "all", "helper": "all", "student": "own"},
    "listen": {"teacher": "all", "helper": "all", "student": "all"},
    "see-instruments": {"teacher": "all", "helper": "all", "student": "own"},
    "tune": {"teacher": "all", "helper": "all", "student": "own"},
    "practise": {"teacher": "all", "helper": "all", "student": "own"},
    "see-progress": {"teacher": "all"},
    "see-card": {"teacher": "all", "helper": "all", "student": "own"},
    "see-morning": {"teacher": "all", "helper": "all"},
    "hear-for-morning": {"teacher": "all", "helper": "all"},
    "take-in-hand": {"teacher": "all", "helper": "own"},
    "come": {"teacher": "all", "helper": "own"},
    "keep-morning": {"teacher": "all"},
    "keep-roll": {"teacher": "all"},
    "keep-people": {"teacher": "all"},
    "keep-settings": {"teacher": "all"},
    "see-ledger": {"teacher": "all"},
    "keep-care": {"teacher": "all"},
    "bring-lists": {"teacher": "all"},
    "let-devices-in": {"teacher": "all"},
}
"""What each device role may do, and how far it reaches. What isn't here may not be done. ``reckon``: what needs nothing of the
studio (advice on figures sent along, tones, what can be chosen).
"""

SESSION_LASTS: Mapping[DeviceRole, timedelta] = {
    "teacher": timedelta(days=30),
    "helper": timedelta(days=30),
    "student": timedelta(days=120),
}
"""R95: how long a device stays signed in; then it ends by itself."""
INVITATION_LASTS = timedelta(minutes=10)
"""R94: how long a code lets one device in."""
SHORTEST_PASSPHRASE, LONGEST_PASSPHRASE = 12, 200
ATTEMPTS_A_MINUTE, ATTEMPTS_IN_TEN_MINUTES, SLOWER_A_MINUTE = 10, 30, 2
"""R96: attempts to sign in from one address; past so many in ten minutes only so few a minute."""
GUESSES_A_MINUTE = 30
"""R96: wrong passphrases that strangers may give for one name, before each makes the next wait longer."""
ABSENT_AFTER = timedelta(minutes=10)
"""R98: a device that shows no sign for so long, with an instrument in its person's hands, is said to be away."""

_POWER: Mapping[Who, int] = {"student-fine-tuners": 0, "student-pegs": 1, "adult": 2, "teacher": 3}


@dataclass(frozen=True)
class DeviceRoleChoice:
    """What a device can be let in as, said for a teacher: ``said``, ``why`` what it sees, whose it is on the roll, whether
    it may be of someone who isn't there, and whether a teacher's passphrase is asked for.
    """

    value: DeviceRole
    said: str
    why: str
    of_roll: Role
    may_be_anyone: bool = False
    asks_passphrase: bool = False


DEVICE_ROLES = (
    DeviceRoleChoice(
        "helper",
        "a helper",
        "Sees the morning, every bench and the fifths, with first names; nothing else of people.",
        "helper",
        may_be_anyone=True,
    ),
    DeviceRoleChoice("student", "a student", "Sees the instrument they have, and nothing of anyone else.", "player"),
    DeviceRoleChoice("teacher", "a teacher", "Sees and does everything.", "teacher", asks_passphrase=True),
)


@dataclass(frozen=True)
class DeviceFacts:
    """Who holds a device. ``session``: None where nobody needs to sign in. ``may``: what its person may turn (a student who may
    turn nothing yet: None).
    """

    role: DeviceRole
    session: UUID | None = None
    person: UUID | None = None
    name: str = ""
    may: Clearance | None = None

    @property
    def speaks_to(self) -> Who:
        """Whom the advice speaks to at most."""
        if self.role == "teacher":
            return "teacher"
        if self.role == "helper":
            return "adult"
        return "student-pegs" if self.may == "pegs" else "student-fine-tuners"


UNLOCKED = DeviceFacts("teacher")
"""Someone at the studio's own computer, where nobody signs in."""


def reach_of(role: DeviceRole, act: Act) -> Reach | None:
    """How far a role may do something; None: not at all.

    >>> reach_of("student", "tune"), reach_of("helper", "keep-people"), reach_of("teacher", "keep-people")
    ('own', None, 'all')
    """
    return MAY[act].get(role)


def advised_at_most(who: Who, device: DeviceFacts) -> Who:
    """R97: the advice follows who has the instrument in hand, and never goes above the device.

    >>> advised_at_most("teacher", DeviceFacts("student", may="fine-tuners"))
    'student-fine-tuners'
    >>> advised_at_most("student-fine-tuners", DeviceFacts("teacher"))
    'student-fine-tuners'
    """
    return min(who, device.speaks_to, key=_POWER.__getitem__)


def name_shown(name: str, device: DeviceFacts) -> str:
    """Another's name as a device may show it: helpers see first names.

    >>> name_shown("Ole Tern", DeviceFacts("helper")), name_shown("Ole Tern", DeviceFacts("teacher"))
    ('Ole', 'Ole Tern')
    """
    if device.role == "teacher":
        return name
    return next(iter(name.split()), name)


def details_shown(details: Mapping[str, str], device: DeviceFacts) -> dict[str, str]:
    """What a school keeps of an instrument, as a device may show it: helpers and students find it by what speaks of no person.

    >>> details_shown({"class": "5b", "teacher": "Ms Holt"}, DeviceFacts("helper"))
    {'class': '5b'}
    >>> details_shown({"of a later version": "Ms Holt"}, DeviceFacts("helper"))
    {}
    """
    return {
        name: text
        for name, text in details.items()
        if device.role == "teacher" or (name in DETAILS and DETAILS[name].of_nobody)
    }


def author_shown(person: UUID, name: str, device: DeviceFacts) -> str | None:
    """Who entered something, as a device may show it: students learn only what they did themselves."""
    if device.role == "student":
        return name if person == device.person else None
    return name_shown(name, device)


def minutes_away(seen_at: datetime, now: datetime) -> int | None:
    """R98: for how many minutes a device has shown no sign; None: it is there.

    >>> then = datetime(2026, 7, 1, 8, 0)
    >>> minutes_away(then, datetime(2026, 7, 1, 8, 9)), minutes_away(then, datetime(2026, 7, 1, 8, 12))
    (None, 12)
    """
    gone = now - seen_at
    return None if gone <= ABSENT_AFTER else int(gone.total_seconds() // 60)


def check_passphrase(passphrase: str, *, name: str) -> str:
    """A passphrase that can be used. Raises BadInput.

    >>> check_passphrase("short", name="Runa")
    Traceback (most recent call last):
    pondus.core.errors.BadInput: A passphrase has at least 12 characters; four words that come to your mind make a good one.
    """
    if len(passphrase.strip()) < SHORTEST_PASSPHRASE:
        raise BadInput(
            "passphrase",
            f"A passphrase has at least {SHORTEST_PASSPHRASE} characters; four words that come to your mind make a good one.",
        )
    if len(passphrase) > LONGEST_PASSPHRASE:
        raise BadInput("passphrase", f"A passphrase has at most {LONGEST_PASSPHRASE} characters; take a shorter one.")
    plain = passphrase.casefold().replace(" ", "")
    if len(set(plain)) < 5 or plain in name.casefold().replace(" ", "") * 20:
        raise BadInput("passphrase", "That is easily guessed; take four words that come to your mind.")
    return passphrase


def attempts_allowed(in_ten_minutes: int) -> int:
    """R96: how many attempts an address has in a minute, after so many in the last ten.

    >>> attempts_allowed(0), attempts_allowed(30)
    (10, 2)
    """
    return SLOWER_A_MINUTE if in_ten_minutes >= ATTEMPTS_IN_TEN_MINUTES else ATTEMPTS_A_MINUTE


def guesses_allowed(wrong_in_ten_minutes: int) -> int:
    """R96: how many wrong passphrases strangers may give for one name in a minute, after so many in the last ten.

    >>> guesses_allowed(0), guesses_allowed(30), guesses_allowed(400)
    (30, 15, 2)
    """
    return max(SLOWER_A_MINUTE, GUESSES_A_MINUTE**2 // (GUESSES_A_MINUTE + wrong_in_ten_minutes))
