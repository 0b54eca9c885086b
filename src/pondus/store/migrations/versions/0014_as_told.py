"""Habits of a school, for each tuning (what is there goes on without any); and what each person of a morning was told to do, so that
people who walk by a plan aren't sent elsewhere by the next.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = '0014'
down_revision = '0013'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column('tuning', sa.Column('habits', JSONB(), server_default='[]', nullable=False))
    op.add_column('station', sa.Column('planned', JSONB(), server_default='[]', nullable=False))
    op.add_column('station', sa.Column('recalled', JSONB(), nullable=True))


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0013; restore a backup made with it.')
