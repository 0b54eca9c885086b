"""Readings by a side or a bare note, tugs, answers about a move, strings that give no pitch, the bridge, how a hand turns.

Nothing that was kept changes: every string is on, every bridge stands, and how a hand turns goes by who turns.
"""

import sqlalchemy as sa
from alembic import op

revision = '0009'
down_revision = '0008'
branch_labels = None
depends_on = None

HEARD = (
    '(note is null or hz is null) and (note is not null or hz is not null or side is not null)'
    ' and (cents is null or (note is not null and side is null)) and (side is null or hz is null)'
)
OWN_UNIT = "mechanism = 'tug' or (unit = 'turn') = (mechanism = 'fine-tuner')"
ANSWERS = ('other-peg', 'sprang-back', 'not-turned', 'wound-other-way', 'end-or-loose', 'none')
NEW = {
    'reading': {'side': ('flat', 'in-tune', 'sharp')},
    'move': {'mechanism': ('fine-tuner', 'peg', 'tug'), 'answer': ANSWERS},
    'string': {'state': ('on', 'floppy', 'broken', 'off'), 'peg_state': ('ok', 'slips', 'sticks', 'out')},
    'instrument': {'bridge': ('stands', 'leans', 'moved', 'fallen')},
    'tuning': {'turning': ('while-sounding', 'step-by-step')},
}


def upgrade() -> None:
    op.add_column('reading', sa.Column('side', sa.String(length=8), nullable=True))
    op.add_column('move', sa.Column('answer', sa.String(length=16), nullable=True))
    op.add_column('string', sa.Column('state', sa.String(length=8), server_default='on', nullable=False))
    op.add_column('string', sa.Column('slack_since', sa.DateTime(timezone=True), nullable=True))
    op.add_column('instrument', sa.Column('bridge', sa.String(length=8), server_default='stands', nullable=False))
    op.add_column('tuning', sa.Column('turning', sa.String(length=16), nullable=True))
    for name, table in (('reading_heard', 'reading'), ('move_own_unit', 'move'), ('move_mechanism', 'move')):
        op.drop_constraint(name, table, type_='check')
    op.drop_constraint('string_peg_state', 'string', type_='check')
    op.create_check_constraint('reading_heard', 'reading', HEARD)
    op.create_check_constraint('move_own_unit', 'move', OWN_UNIT)
    for table, columns in NEW.items():
        for name, values in columns.items():
            listed = ', '.join(f"'{value}'" for value in values)
            op.create_check_constraint(f'{table}_{name}', table, f'"{name}" in ({listed})')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0008; restore a backup made with it.')
