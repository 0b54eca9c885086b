"""A reading may be what an ear hears beside the string's tone. Nothing that was kept changes.
"""

import sqlalchemy as sa
from alembic import op

revision = '0015'
down_revision = '0014'
branch_labels = None
depends_on = None

SIDES = ('flat', 'in-tune', 'sharp', 'much-lower', 'lower', 'same', 'higher', 'much-higher')


def upgrade() -> None:
    op.alter_column('reading', 'side', type_=sa.String(length=12), existing_nullable=True)
    op.drop_constraint('reading_side', 'reading', type_='check')
    listed = ', '.join(f"'{value}'" for value in SIDES)
    op.create_check_constraint('reading_side', 'reading', f'side in ({listed})')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0014; restore a backup made with it.')
