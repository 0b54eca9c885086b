"""A reading may be what an ear hears beside the string's tone; a turn may be said to have moved a string that is still far off. Nothing
that was kept changes.
"""

import sqlalchemy as sa
from alembic import op

revision = '0015'
down_revision = '0014'
branch_labels = None
depends_on = None

SIDES = ('flat', 'in-tune', 'sharp', 'much-lower', 'lower', 'same', 'higher', 'much-higher')
ANSWERS = ('other-peg', 'sprang-back', 'not-turned', 'wound-other-way', 'end-or-loose', 'moved', 'none')


def upgrade() -> None:
    op.alter_column('reading', 'side', type_=sa.String(length=12), existing_nullable=True)
    op.drop_constraint('reading_side', 'reading', type_='check')
    op.create_check_constraint('reading_side', 'reading', f'side in ({_listed(SIDES)})')
    for table, column in (('reading', 'turn_answer'), ('move', 'answer')):
        op.drop_constraint(f'{table}_{column}', table, type_='check')
        op.create_check_constraint(f'{table}_{column}', table, f'{column} in ({_listed(ANSWERS)})')


def _listed(values: tuple[str, ...]) -> str:
    return ', '.join(f"'{value}'" for value in values)


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0014; restore a backup made with it.')
