"""Alembic's way in: runs the migrations on the engine that `store.database.migrate` hands over."""

from alembic import context
from sqlalchemy import text
from sqlmodel import SQLModel

import pondus.store.tables

TARGET = SQLModel.metadata
MIGRATION_LOCK = 7_206_001
assert pondus.store.tables

with context.config.attributes["engine"].connect() as connection:
    connection.execute(text(f"SELECT pg_advisory_lock({MIGRATION_LOCK})"))
    connection.commit()
    try:
        context.configure(connection=connection, target_metadata=TARGET)
        with context.begin_transaction():
            context.run_migrations()
        connection.commit()
    finally:
        connection.rollback()
        connection.execute(text(f"SELECT pg_advisory_unlock({MIGRATION_LOCK})"))
        connection.commit()
