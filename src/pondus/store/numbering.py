"""Places in the log for many entries at once: a list's, or a whole studio's of a form that had no places."""

from uuid import UUID

from sqlalchemy import text
from sqlmodel import Session

from pondus.store.instruments import next_version

ENTRIES = ("reading", "move", "fifth_check")
_EVERY = " union all ".join(
    f"select e.id, {place} as place, e.at, e.seq, t.instrument_id, t.started_at, t.import_id, t.id as tuning_id"
    f" from {table} e join tuning t on t.id = e.tuning_id"
    for place, table in enumerate(ENTRIES)
)
_OF_LISTS = text(
    f"""
    create temporary table numbered on commit drop as
    select id, place, instrument_id, at,
        row_number() over (partition by instrument_id order by started_at, at, place, id) as seq
    from ({_EVERY}) every where tuning_id = any(:tunings) and (import_id is not null or seq = 0)
    """
)
_BY_TIMES = text(
    f"""
    create temporary table numbered on commit drop as
    select id, place, instrument_id, at, row_number() over (partition by instrument_id order by at, place, id) as seq
    from ({_EVERY}) every
    """
)
_LATE = """
    update {table} e set late = true from tuning t
    where t.id = e.tuning_id and t.id = any(:tunings) and t.import_id is null and e.seq = 0 and (
        exists (select 1 from reading o where o.tuning_id = t.id and o.string = e.string and o.seq > 0 and o.at > e.at
            and o.struck_at is null)
        or exists (select 1 from move o where o.tuning_id = t.id and o.string = e.string and o.seq > 0 and o.at > e.at
            and o.struck_at is null)
    )
"""
_SCREWS_SET = text(
    """
    update string s set screw_set_seq = found.seq from (
        select s2.id, max(n.seq) as seq from string s2
        join numbered n on n.instrument_id = s2.instrument_id and n.at < s2.screw_set_at group by s2.id
    ) found where found.id = s.id
    """
)
_COUNTED = text(
    """
    update instrument i set log_version = greatest(i.log_version, found.seq) + 1
    from (select instrument_id, max(seq) as seq from numbered group by instrument_id) found
    where found.instrument_id = i.id
    """
)


def number_lists(session: Session, tunings: set[UUID]) -> None:
    """Entries of lists in these tunings get their places. In a tuning that lists made they stand by their times, whichever list
    came first; in one that was done here they come last, and are late where their string was read or turned since.
    """
    if not tunings:
        return
    told = {"tunings": list(tunings)}
    for table in ("reading", "move"):
        session.execute(text(_LATE.format(table=table)), told)
    session.execute(_OF_LISTS, told)
    counts = session.execute(text("select instrument_id, max(seq) from numbered group by instrument_id order by 1")).all()
    for instrument_id, places in counts:
        before = next_version(session, instrument_id, places=int(places)) - int(places)
        session.execute(
            text("update numbered set seq = seq + :before where instrument_id = :instrument"),
            {"before": before, "instrument": instrument_id},
        )
    _place(session)


def number_by_times(session: Session) -> None:
    """All entries of a studio get places by their times, and its screws were set where they were by then."""
    session.execute(_BY_TIMES)
    session.execute(_SCREWS_SET)
    session.execute(_COUNTED)
    _place(session)


def _place(session: Session) -> None:
    for place, table in enumerate(ENTRIES):
        session.execute(
            text(f"update {table} e set seq = n.seq from numbered n where n.id = e.id and n.place = :place"), {"place": place}
        )
    session.execute(text("drop table numbered"))
