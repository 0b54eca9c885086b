"""How often something may be asked for in a minute, counted for all workers together."""

from datetime import timedelta

from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, func, select

from pondus.store.errors import TooOften
from pondus.store.tables import CountRow, now

REMEMBERED = timedelta(minutes=10)


def asked_lately(session: Session, bucket: str) -> int:
    """How often something was asked for in the last ten minutes."""
    asked = select(func.coalesce(func.sum(CountRow.count), 0)).where(
        CountRow.bucket == bucket, CountRow.minute > now() - REMEMBERED, CountRow.minute <= now()
    )
    return int(session.exec(asked).one())


def asked_this_minute(session: Session, bucket: str) -> int:
    """How often something was asked for in this minute."""
    row = session.get(CountRow, (bucket, now().replace(second=0, microsecond=0)))
    return 0 if row is None else row.count


def count_asked(session: Session, bucket: str, *, at_most: int) -> int:
    """Count one more; how often it was by now in this minute. Raises TooOften past ``at_most``."""
    minute = now().replace(second=0, microsecond=0)
    put = insert(CountRow).values(bucket=bucket, minute=minute, count=1)
    count = session.execute(
        put.on_conflict_do_update(
            index_elements=["bucket", "minute"],
            set_={"count": CountRow.__table__.c.count + 1},  # type: ignore[attr-defined]
        ).returning(col(CountRow.count))
    ).scalar_one()
    if count == 1:
        session.execute(delete(CountRow).where(col(CountRow.minute) < minute - REMEMBERED))
    if count > at_most:
        raise TooOften(f"That was asked for {at_most} times in this minute already; wait a minute and go on.")
    return int(count)
