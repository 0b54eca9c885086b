"""A teacher's passphrase set on the machine itself: whoever can do that has the studio's data anyway."""

import sys

from pondus.core.errors import BadInput
from pondus.running.database import studio_database
from pondus.running.welcome import ask_passphrase, made_up_passphrase
from pondus.store import devices as device_store
from pondus.store.database import engine_for, migrate, session_on


def set_passphrase(studio: str, name: str | None) -> str:
    """Ask for it at a terminal; else make one up and say it. Ends every device's session. Raises BadInput, CannotStart."""
    asks = sys.stdin is not None and sys.stdin.isatty()
    if name is None:
        if not asks:
            raise BadInput("name", "Whose passphrase is it? Give --name.")
        name = input("Name: ").strip()
    chosen = ask_passphrase(name) if asks else made_up_passphrase()
    with studio_database(studio) as database:
        migrate(database.url)
        engine = engine_for(database.url)
        try:
            with session_on(engine) as session:
                row = device_store.set_passphrase(session, name, chosen)
        finally:
            engine.dispose()
    told = "is set." if asks else f"is now\n\n    {chosen}\n\n"
    return f"{row.name}'s passphrase {told} Every device has to sign in again."
