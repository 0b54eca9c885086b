"""What tunings came to is worked out anew: tuners that show no octave tell of drift and of turns as the others do."""

from alembic import op

revision = '0020'
down_revision = '0019'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute('DELETE FROM tuning_summary')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0019; restore a backup made with it.')
