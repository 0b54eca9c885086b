"""A shared studio with two instruments and four people, and devices let into it."""

import unittest
from datetime import timedelta
from typing import Any
from uuid import uuid4

from flask.testing import FlaskClient
from sqlmodel import delete

from pondus.core.views.access import DeviceRole
from pondus.store import devices as device_store
from pondus.store.database import session_on
from pondus.store.device_tables import DeviceSessionRow
from pondus.store.tables import CountRow, PersonRow, now
from pondus.web.app import WebConfig, create_app
from tests.database import fresh_database

BASE = "https://localhost"


class Room(unittest.TestCase):
    """A shared studio with a violin that Ines has and a viola that is Ole's."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.app = create_app(WebConfig(database_url=fresh_database(), door="shared"))
        cls.engine = cls.app.extensions["pondus_engine"]
        cls.ines, cls.ole, cls.mina = uuid4(), uuid4(), uuid4()
        cls.violin, cls.viola = uuid4(), uuid4()
        with session_on(cls.engine) as session:
            cls.teacher = device_store.set_passphrase(session, "Runa Vik", "four words of mine").id
            session.add(PersonRow(id=cls.ines, name="Ines Holm", role="player", cleared=[1, 2]))
            session.add(PersonRow(id=cls.ole, name="Ole Strand", role="player", cleared=[1, 2, 3, 4, 5]))
            session.add(PersonRow(id=cls.mina, name="Mina Lund", role="helper"))
        teacher = cls.device("teacher", cls.teacher)
        for key, kind, player in ((cls.violin, "violin", cls.ines), (cls.viola, "viola", cls.ole)):
            new = {"id": str(key), "label": f"{kind} of one", "kind": kind, "player_id": str(player), "note": "for Ole Strand"}
            made = cls.ask(teacher, "POST", "/api/instruments", json=new)
            assert made.status_code == 200, made.json

    def setUp(self) -> None:
        with session_on(self.engine) as session:  # each test its own count of what was asked for
            session.execute(delete(CountRow))

    @classmethod
    def device(cls, role: DeviceRole | None, person: Any = None, *, ended: bool = False) -> FlaskClient:
        client = cls.app.test_client()
        client.environ_base["HTTP_ORIGIN"] = BASE
        client.environ_base["wsgi.url_scheme"] = "https"
        if role is not None:
            with session_on(cls.engine) as session:
                entered = device_store.let_in(session, role, person_id=person, name="a device", kind="phone")
                studio = device_store.sign_in_row(session).studio
                if ended:
                    session.get_one(DeviceSessionRow, entered.session).ends_at = now() - timedelta(seconds=1)
            client.set_cookie(f"pondus-{studio}", entered.token, domain="localhost")
        return client

    @staticmethod
    def ask(client: FlaskClient, method: str, path: str, **named: Any) -> Any:
        return client.open(path, method=method, base_url=BASE, **named)
