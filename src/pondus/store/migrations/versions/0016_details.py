"""What a school keeps of an instrument besides: class, teacher, place, case, serial number. Nothing that was kept changes."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = '0016'
down_revision = '0015'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column('instrument', sa.Column('details', JSONB(), server_default='{}', nullable=False))


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0015; restore a backup made with it.')
