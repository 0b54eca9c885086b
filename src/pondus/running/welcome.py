"""What the terminal says when Pondus is shared for the first time, and each time: who may come in, and where."""

import getpass
import secrets
import sys

import segno

from pondus.core.errors import BadInput
from pondus.store import devices as device_store
from pondus.store.database import engine_for, session_on
from pondus.store.people import people

CONSONANTS, VOWELS = "bdfgklmnprstvz", "aeiou"
GROUPS = 5
"""Of four letters each: about 2⁶⁰ passphrases."""


def made_up_passphrase() -> str:
    """A passphrase that can be said and typed: five groups of two syllables."""
    syllable = [secrets.choice(CONSONANTS) + secrets.choice(VOWELS) for _ in range(2 * GROUPS)]
    return "-".join(syllable[place] + syllable[place + 1] for place in range(0, 2 * GROUPS, 2))


def ensure_teacher(database_url: str) -> None:
    """Before others can come in, a teacher has a passphrase: asked for at a terminal, else made up and told once."""
    engine = engine_for(database_url)
    try:
        with session_on(engine) as session:
            if device_store.has_teacher(session):
                return
            known = next((row.name for row in people(session) if row.role == "teacher"), "")
            asks = sys.stdin is not None and sys.stdin.isatty()
            name, passphrase = _asked(known) if asks else (known or "Teacher", made_up_passphrase())
            device_store.set_passphrase(session, name, passphrase)
            if asks and _asked_to_lock():
                device_store.sign_in_row(session).locked = True
    finally:
        engine.dispose()
    if not asks:
        print(
            f"Pondus is shared for the first time. Sign in on other devices as “{name}” with the passphrase\n\n"
            f"    {passphrase}\n\n"
            "It is told only now; bin/pondus passphrase sets another. Every account of this computer can open Pondus here"
            " without signing in, until it is locked on the page Devices.",
            flush=True,
        )


def _asked(known: str) -> tuple[str, str]:
    """Name and passphrase from whoever sits there."""
    print("Pondus is shared for the first time. Other devices sign in; choose a teacher's name and passphrase.")
    name = input(f"Name [{known}]: " if known else "Name: ").strip() or known or "Teacher"
    return name, ask_passphrase(name)


def _asked_to_lock() -> bool:
    print("Every account of this computer can open Pondus here as a teacher, without signing in, unless it is locked.")
    return input("Lock it, so that people sign in here too? [y/N]: ").strip().lower() in ("y", "yes")


def ask_passphrase(name: str) -> str:
    """A new passphrase, typed twice; an empty line takes a made-up one."""
    from pondus.core.views.access import check_passphrase

    made_up = made_up_passphrase()
    while True:
        first = getpass.getpass(f"Passphrase (Enter takes {made_up}): ") or made_up
        try:
            check_passphrase(first, name=name)
        except BadInput as error:
            print(error.message)
            continue
        if first == made_up or getpass.getpass("Once more: ") == first:
            return first
        print("Those were two different ones.")


def show_addresses(urls: list[str]) -> None:
    """Where other devices find Pondus; at a terminal as a QR code, too."""
    print("\nOther devices of this network open")
    for place, url in enumerate(urls):
        print(f"    {url}{'   (this one stays when the address changes)' if place == 0 and len(urls) > 1 else ''}")
    print("Their browsers warn once; the page Devices says what to do about it, and lets helpers and students in.", flush=True)
    if sys.stdout.isatty():
        segno.make(urls[0], error="m").terminal(compact=True)
