"""A violin or viola may be held across the lap like a guitar. Nothing that was kept changes."""

from alembic import op

revision = '0018'
down_revision = '0017'
branch_labels = None
depends_on = None

STANCES = "'lap', 'playing', 'helper', 'guitar', 'seated', 'turned'"


def upgrade() -> None:
    for table in ('instrument', 'tuning'):
        op.drop_constraint(f'{table}_stance', table, type_='check')
        op.create_check_constraint(f'{table}_stance', table, f'stance in ({STANCES})')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0017; restore a backup made with it.')
