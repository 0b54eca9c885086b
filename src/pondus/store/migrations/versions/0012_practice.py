"""Practice: goes at drills and their answers. Nothing that was kept changes.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = '0012'
down_revision = '0011'
branch_labels = None
depends_on = None

FROM_1990 = "'1990-01-01 00:00:00+00'"


def upgrade() -> None:
    op.create_table(
        'practice',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('person_id', sa.Uuid(), sa.ForeignKey('person.id'), nullable=False),
        sa.Column('drill', sa.String(length=24), nullable=False),
        sa.Column('setup', JSONB(), nullable=False),
        sa.Column('seed', sa.BigInteger(), nullable=False),
        sa.Column('known', JSONB(), nullable=False),
        sa.Column('reached', JSONB(), nullable=False),
        sa.Column('day', sa.Date(), nullable=False),
        sa.Column('began_at', sa.DateTime(timezone=True), nullable=False),
        sa.Column('ended_at', sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint(f'began_at >= {FROM_1990}', 'practice_began_at'),
    )
    op.create_index('practice_of_person', 'practice', ['person_id', 'began_at'])
    op.create_table(
        'practice_answer',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('practice_id', sa.Uuid(), sa.ForeignKey('practice.id'), nullable=False),
        sa.Column('number', sa.Integer(), nullable=False),
        sa.Column('item', sa.String(length=60), nullable=False),
        sa.Column('answer', JSONB(), nullable=False),
        sa.Column('right', sa.Boolean(), nullable=False),
        sa.Column('said', sa.String(length=2000), nullable=False),
        sa.Column('cents', sa.Float(), nullable=True),
        sa.Column('outcome', JSONB(), nullable=True),
        sa.Column('seconds', sa.Float(), nullable=True),
        sa.Column('at', sa.DateTime(timezone=True), nullable=False),
        sa.UniqueConstraint('practice_id', 'number'),
        sa.CheckConstraint('number >= 0 and number < 1000', 'practice_answer_number'),
        sa.CheckConstraint('cents > 0 and cents <= 1200', 'practice_answer_cents'),
        sa.CheckConstraint('seconds >= 0 and seconds <= 86400', 'practice_answer_seconds'),
    )


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0011; restore a backup made with it.')
