"""Alembic's way in: runs the migrations on the connection or the engine that `store.database` hands over."""

from alembic import context
from sqlalchemy import Connection, text
from sqlmodel import SQLModel

import pondus.store.device_tables
import pondus.store.practice_tables

TARGET = SQLModel.metadata
MIGRATION_LOCK = 7_206_001
assert pondus.store.device_tables
assert pondus.store.practice_tables


def run_on(connection: Connection) -> None:
    context.configure(connection=connection, target_metadata=TARGET)
    with context.begin_transaction():
        context.run_migrations()


attributes = context.config.attributes
if "connection" in attributes:  # inside someone else's transaction: all of it or nothing
    run_on(attributes["connection"])
else:
    with attributes["engine"].connect() as connection:
        connection.execute(text(f"SELECT pg_advisory_lock({MIGRATION_LOCK})"))
        connection.commit()
        try:
            run_on(connection)
            connection.commit()
        finally:
            connection.rollback()
            connection.execute(text(f"SELECT pg_advisory_unlock({MIGRATION_LOCK})"))
            connection.commit()
