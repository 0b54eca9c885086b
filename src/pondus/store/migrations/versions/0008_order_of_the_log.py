"""The log's own order; late entries; typed columns; what can't be used is set aside, whole.

Entries of one instrument are numbered by the time they were stored at (the only order there was). Records that today's bounds
refuse (a measurement dated year 1, a string put on in 9999, an instrument of an unknown kind) move to ``set_aside`` with the
reason; nothing is thrown away. Summaries and sortings are worked out anew.
"""

import sqlalchemy as sa
import sqlmodel
from alembic import op
from sqlalchemy.dialects import postgresql

revision = '0008'
down_revision = '0007'
branch_labels = None
depends_on = None

ENTRIES = ('reading', 'move', 'fifth_check')
EARLY = "< '1990-01-01 00:00:00+00'"
LATE = "> now() + interval '1 day'"

ONE_OF = {
    'import': {'kind': ('roll', 'people', 'readings', 'moves', 'room', 'care'), 'state': ('looked-at', 'stored', 'undone')},
    'person': {'role': ('teacher', 'helper', 'player')},
    'instrument': {'kind': ('violin', 'viola', 'cello'), 'stance': ('lap', 'playing', 'helper', 'seated', 'turned')},
    'string': {
        'core': ('steel', 'synthetic'),
        'peg_kind': ('friction', 'geared'),
        'peg_state': ('ok', 'slips', 'sticks'),
        'winding': ('normal', 'reversed'),
    },
    'tuning': {
        'stance': ('lap', 'playing', 'helper', 'seated', 'turned'),
        'who': ('teacher', 'adult', 'student-pegs', 'student-fine-tuners'),
        'spelling': ('sharps', 'flats'),
        'order': ('A-outward', 'top-down', 'low-up'),
    },
    'reading': {'source': ('typed', 'microphone', 'recording', 'simulated', 'list')},
    'move': {'mechanism': ('fine-tuner', 'peg'), 'direction': ('raise', 'lower'), 'unit': ('turn', 'degree')},
    'fifth_check': {
        'way': ('double-stop', 'harmonics', 'tapped'),
        'source': ('typed', 'microphone', 'recording', 'simulated', 'tapped'),
    },
    'station': {'may': ('fine-tuners', 'pegs', 'teacher')},
    'room': {'source': ('typed', 'list', 'simulated')},
    'care': {
        'kind': ('string-changed', 'fault', 'luthier-out', 'luthier-in', 'note'),
        'sign': (
            'peg-slips',
            'peg-sticks',
            'peg-stuck',
            'screw-at-end',
            'screw-stiff',
            'pitch-jumps',
            'wont-stay',
            'string-false',
            'bridge-moved',
        ),
        'core': ('steel', 'synthetic'),
    },
}
CHECKS = {
    'string': {
        'string_screw': 'abs(screw_turns) <= screw_reach_turns and screw_reach_turns <= 20',
        'string_put_on': "put_on >= '1990-01-01' and put_on < '2200-01-01'",
    },
    'tuning': {
        'tuning_started_at': "started_at >= '1990-01-01 00:00:00+00'",
        'tuning_pitch': 'a4 between 415 and 446 and fifth_cents between 700 and 701.9551',
    },
    'reading': {
        'reading_at': "at >= '1990-01-01 00:00:00+00'",
        'reading_hz': 'hz between 20 and 5000',
        'reading_cents': 'cents between -50 and 50',
        'reading_heard': '(note is null) <> (hz is null) and (cents is null) = (note is null)',
    },
    'move': {
        'move_at': "at >= '1990-01-01 00:00:00+00'",
        'move_amount': "amount > 0 and amount < 'Infinity'::float8",
        'move_own_unit': "(unit = 'turn') = (mechanism = 'fine-tuner')",
    },
    'fifth_check': {'fifth_check_at': "at >= '1990-01-01 00:00:00+00'"},
    'room': {
        'room_at_since': "at >= '1990-01-01 00:00:00+00'",
        'room_air': 'humidity between 0 and 100 and celsius between -30 and 55',
    },
    'care': {'care_at': "at >= '1990-01-01 00:00:00+00'"},
}
OF_INSTRUMENT = {
    'digest': 'instrument_id in ({ids})',
    'swept': 'instrument_id in ({ids})',
    'reading': 'tuning_id in (select id from tuning where instrument_id in ({ids}))',
    'move': 'tuning_id in (select id from tuning where instrument_id in ({ids}))',
    'fifth_check': 'tuning_id in (select id from tuning where instrument_id in ({ids}))',
    'tuning': 'instrument_id in ({ids})',
    'simulated': 'instrument_id in ({ids})',
    'settings': 'instrument_id in ({ids})',
    'care': 'instrument_id in ({ids})',
    'string': 'instrument_id in ({ids})',
}


def upgrade() -> None:
    op.create_table(
        'set_aside',
        sa.Column('id', sa.Uuid(), nullable=False),
        sa.Column('of_table', sqlmodel.sql.sqltypes.AutoString(length=40), nullable=False),
        sa.Column('reason', sqlmodel.sql.sqltypes.AutoString(length=500), nullable=False),
        sa.Column('content', postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column('at', sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint('id'),
    )
    op.create_table(
        'asked_count',
        sa.Column('bucket', sqlmodel.sql.sqltypes.AutoString(length=80), nullable=False),
        sa.Column('minute', sa.DateTime(timezone=True), nullable=False),
        sa.Column('count', sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint('bucket', 'minute'),
    )
    _set_aside()
    _number()
    _own_units()
    _derived()
    _typed()


def _aside(table: str, where: str, reason: str) -> None:
    op.execute(
        'insert into set_aside (id, of_table, reason, content, at) '
        f"select gen_random_uuid(), '{table}', '{reason}', to_jsonb(t), now() from \"{table}\" t where {where}"
    )
    op.execute(f'delete from "{table}" where {where}')


def _values(names: tuple[str, ...]) -> str:
    return ', '.join(f"'{name}'" for name in names)


def _set_aside() -> None:
    """Whatever today's bounds refuse: first whole instruments with all that is theirs, then single records."""
    unknown = "select id from instrument where kind not in ('violin', 'viola', 'cello') or kind is null"
    unknown = f'{unknown} or simulated_of in ({unknown})'
    op.execute(f'create temporary table going on commit drop as {unknown}')
    ids = 'select id from going'
    op.execute(f'update station set instrument_id = null, since = null where instrument_id in ({ids})')
    for table, where in OF_INSTRUMENT.items():
        if table in ('digest', 'swept'):
            op.execute(f'delete from {table} where {where.format(ids=ids)}')
        else:
            _aside(table, where.format(ids=ids), 'its instrument is of an unknown kind')
    _aside('instrument', f'id in ({ids}) and simulated_of is not null', 'an instrument of an unknown kind')
    _aside('instrument', f'id in ({ids})', 'an instrument of an unknown kind')
    op.execute(
        "insert into set_aside (id, of_table, reason, content, at) select gen_random_uuid(), 'string', "
        f"'put on before 1990 or still to come; its day is taken away', to_jsonb(t), now() from string t "
        "where put_on < '1990-01-01' or put_on > current_date + 1"
    )
    op.execute("update string set put_on = null where put_on < '1990-01-01' or put_on > current_date + 1")
    op.execute(
        'update string set screw_reach_turns = least(screw_reach_turns, 20), screw_turns = greatest('
        '-least(screw_reach_turns, 20), least(least(screw_reach_turns, 20), screw_turns)) '
        'where abs(screw_turns) > screw_reach_turns or screw_reach_turns > 20'
    )
    for table in ('room', 'care'):
        _aside(table, f'at {EARLY} or at {LATE}', 'dated before 1990 or still to come')
    _aside('room', 'not (humidity between 0 and 100) or not (celsius between -30 and 55)', 'no air of a room')
    for table in ENTRIES:
        op.execute(f'delete from digest where tuning_id in (select tuning_id from {table} where at {EARLY} or at {LATE})')
        _aside(table, f'at {EARLY} or at {LATE}', 'dated before 1990 or still to come')
    _aside(
        'reading',
        "not (hz between 20 and 5000) or not (cents between -50 and 50) or (note is null) = (hz is null)"
        ' or (cents is null) <> (note is null)',
        'a reading that can not be',
    )
    _aside('move', "not (amount > 0 and amount < 'Infinity'::float8)", 'a move of no amount')
    for table, columns in ONE_OF.items():
        if table in ('instrument', 'import', 'person', 'tuning', 'string'):
            continue
        where = ' or '.join(f'"{name}" not in ({_values(values)})' for name, values in columns.items())
        _aside(table, where, 'it holds a value that is unknown here')
    # What others hang on stays where it is, with what is usual in place of the value.
    usual = {
        'person': {'role': "'player'"},
        'instrument': {'stance': 'null'},
        'string': {'core': "'steel'", 'peg_kind': "'friction'", 'peg_state': "'ok'", 'winding': "'normal'"},
        'tuning': {
            'stance': "'lap'",
            'who': "'teacher'",
            'spelling': "'sharps'",
            'order': "'A-outward'",
        },
        'import': {'state': "'undone'", 'kind': "'roll'"},
    }
    for table, columns in usual.items():
        for name, value in columns.items():
            wrong = f'"{name}" not in ({_values(ONE_OF[table][name])})'
            op.execute(
                'insert into set_aside (id, of_table, reason, content, at) select gen_random_uuid(), '
                f"'{table}', 'its {name} is unknown here; the usual one is taken', "
                + ("to_jsonb(t) - 'content'" if table == 'import' else 'to_jsonb(t)')
                + f', now() from "{table}" t where {wrong}'
            )
            op.execute(f'update "{table}" set "{name}" = {value} where {wrong}')
    known = _values(('fine-tuner-first', 'right-note-first', 'save-travel', 'pegs-only'))
    op.execute(f"update tuning set approach = 'fine-tuner-first' where approach not in ({known})")
    _aside_bad_tunings()


def _aside_bad_tunings() -> None:
    """A tuning of no time or no pitch goes with its entries."""
    bad = (
        f"select id from tuning where started_at {EARLY} or started_at {LATE} or not (a4 between 415 and 446)"
        ' or not (fifth_cents between 700 and 701.9551)'
    )
    for table in ENTRIES:
        _aside(table, f'tuning_id in ({bad})', 'its tuning can not be')
    op.execute(f'delete from digest where tuning_id in ({bad})')
    _aside('tuning', f'id in ({bad})', 'dated before 1990 or still to come, or at no pitch there is')


def _number() -> None:
    """``seq``: by the time each entry was stored at; of one moment readings first, then moves, then checks."""
    for table in ENTRIES:
        op.add_column(table, sa.Column('seq', sa.BigInteger(), server_default='0', nullable=False))
        op.add_column(table, sa.Column('made_on', sa.BigInteger(), nullable=True))
        op.add_column(table, sa.Column('device', sa.Uuid(), nullable=True))
        op.add_column(table, sa.Column('late', sa.Boolean(), server_default='false', nullable=False))
    op.add_column('string', sa.Column('screw_set_seq', sa.BigInteger(), server_default='0', nullable=False))
    every = ' union all '.join(
        f"select e.id, e.at, {place} as place, t.instrument_id from {table} e join tuning t on t.id = e.tuning_id"
        for place, table in enumerate(ENTRIES)
    )
    op.execute(
        'create temporary table numbered on commit drop as select id, instrument_id, at, place, row_number() over '
        f'(partition by instrument_id order by at, place, id) as seq from ({every}) as every'
    )
    op.execute('create index on numbered (id)')
    for place, table in enumerate(ENTRIES):
        op.execute(f'update {table} e set seq = n.seq from numbered n where n.id = e.id and n.place = {place}')
    op.execute(
        'update string s set screw_set_seq = found.seq from (select s2.id, max(n.seq) as seq from string s2 '
        'join numbered n on n.instrument_id = s2.instrument_id and n.at < s2.screw_set_at group by s2.id) found '
        'where found.id = s.id'
    )
    op.execute(
        'update instrument i set log_version = greatest(i.log_version, found.seq) + 1 from '
        '(select instrument_id, max(seq) as seq from numbered group by instrument_id) found '
        'where found.instrument_id = i.id'
    )
    for table in ENTRIES:
        op.drop_index(f'{table}_of_tuning', table_name=table)
        op.create_index(f'{table}_of_tuning', table, ['tuning_id', 'seq'], unique=False)


def _own_units() -> None:
    """A screw's turns told in degrees, or a peg's in turns, are the same turn in the mechanism's own unit."""
    op.execute("update move set amount = amount / 360, unit = 'turn' where mechanism = 'fine-tuner' and unit = 'degree'")
    op.execute("update move set amount = amount * 360, unit = 'degree' where mechanism = 'peg' and unit = 'turn'")


def _derived() -> None:
    op.drop_table('digest')
    op.drop_table('swept')
    op.create_table(
        'tuning_summary',
        sa.Column('tuning_id', sa.Uuid(), nullable=False),
        sa.Column('instrument_id', sa.Uuid(), nullable=False),
        sa.Column('started_at', sa.DateTime(timezone=True), nullable=False),
        sa.Column('content', postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id']),
        sa.ForeignKeyConstraint(['tuning_id'], ['tuning.id']),
        sa.PrimaryKeyConstraint('tuning_id'),
    )
    op.create_index('summary_of_instrument', 'tuning_summary', ['instrument_id', 'started_at'], unique=False)
    op.create_table(
        'triaged',
        sa.Column('instrument_id', sa.Uuid(), nullable=False),
        sa.Column('day', sa.Date(), nullable=False),
        sa.Column('log_version', sa.BigInteger(), nullable=False),
        sa.Column('sorted', postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(['instrument_id'], ['instrument.id']),
        sa.PrimaryKeyConstraint('instrument_id'),
    )


def _typed() -> None:
    for table, columns in ONE_OF.items():
        for name, values in columns.items():
            op.create_check_constraint(f'{table}_{name}', table, f'"{name}" in ({_values(values)})')
    for table, checks in CHECKS.items():
        for name, check in checks.items():
            op.create_check_constraint(name, table, check)


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0007; restore a backup made with it.')
