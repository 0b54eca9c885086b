"""What is understood of a log instead of told: the reference a reading was read at, answers about turns that nobody told of,
whether somebody has looked where a screw stands, and whether a move's amount is known or only where it ended.

Moves that a listening page had kept by itself (one for each reading, whose ids follow from those readings') are taken from the
log: what a reading stands for is worked out from the log now, one turn for one glide, and teaches nothing. An answer about one
stays, with its reading; what was told teaches as it did. What was worked out of tunings is worked out anew.
"""

from uuid import uuid5

import sqlalchemy as sa
from alembic import op

revision = '0013'
down_revision = '0012'
branch_labels = None
depends_on = None

ANSWERS = ('other-peg', 'sprang-back', 'not-turned', 'wound-other-way', 'end-or-loose', 'none')
TOGETHER = 5000


def upgrade() -> None:
    op.add_column('reading', sa.Column('turn_answer', sa.String(length=16), nullable=True))
    op.add_column('reading', sa.Column('a4', sa.Float(), nullable=True))
    op.add_column('string', sa.Column('screw_seen', sa.Boolean(), server_default='false', nullable=False))
    op.add_column('move', sa.Column('amount_known', sa.Boolean(), server_default='true', nullable=False))
    listed = ', '.join(f"'{value}'" for value in ANSWERS)
    op.create_check_constraint('reading_turn_answer', 'reading', f'turn_answer in ({listed})')
    op.create_check_constraint('reading_a4', 'reading', 'a4 between 415 and 446')
    op.execute('update string set screw_seen = true where screw_turns <> 0 or screw_set_seq > 0')
    _take_out_unseen_moves()
    op.execute('delete from tuning_summary')


def _take_out_unseen_moves() -> None:
    bind = op.get_bind()
    heard = bind.execute(sa.text("select id from reading where source in ('microphone', 'simulated')")).scalars().all()
    reading_of = {uuid5(reading, 'unseen-move'): reading for reading in heard}
    kept = list(reading_of)
    for start in range(0, len(kept), TOGETHER):
        some = kept[start : start + TOGETHER]
        found = bind.execute(
            sa.text('select id, answer, struck_at from move where id = any(:ids)'), {'ids': some}
        ).all()
        for move, answer, struck_at in found:
            said = 'not-turned' if struck_at is not None else answer
            if said is not None:
                bind.execute(
                    sa.text('update reading set turn_answer = :said where id = :reading'),
                    {'said': said, 'reading': reading_of[move]},
                )
        if found:
            bind.execute(sa.text('delete from move where id = any(:ids)'), {'ids': [move for move, _, _ in found]})


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0012; restore a backup made with it.')
