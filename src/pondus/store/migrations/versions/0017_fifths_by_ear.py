"""A fifth may be checked by how it sounds: still, slow beats, fast, rough. Nothing that was kept changes."""

from alembic import op

revision = '0017'
down_revision = '0016'
branch_labels = None
depends_on = None

WAYS = "'double-stop', 'harmonics', 'tapped', 'by-ear'"


def upgrade() -> None:
    op.drop_constraint('fifth_check_way', 'fifth_check', type_='check')
    op.create_check_constraint('fifth_check_way', 'fifth_check', f'way in ({WAYS})')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0016; restore a backup made with it.')
