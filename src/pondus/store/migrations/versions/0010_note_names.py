"""Notes may be called as German or as Do-Re-Mi has it. Nothing that was kept changes.
"""

import sqlalchemy as sa
from alembic import op

revision = '0010'
down_revision = '0009'
branch_labels = None
depends_on = None

SPELLINGS = ('sharps', 'flats', 'german', 'do-re-mi', 'do-re-mi-french')


def upgrade() -> None:
    op.alter_column('tuning', 'spelling', type_=sa.String(length=16), existing_nullable=False)
    op.drop_constraint('tuning_spelling', 'tuning', type_='check')
    listed = ', '.join(f"'{value}'" for value in SPELLINGS)
    op.create_check_constraint('tuning_spelling', 'tuning', f'"spelling" in ({listed})')


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0009; restore a backup made with it.')
