"""Who comes in: passphrases, codes, devices; and whose device an entry came from. Nothing that was kept changes.
"""

import sqlalchemy as sa
from alembic import op

revision = '0011'
down_revision = '0010'
branch_labels = None
depends_on = None

ROLES = "'teacher', 'helper', 'student'"


def _time(name: str, *, nullable: bool = False) -> sa.Column:
    return sa.Column(name, sa.DateTime(timezone=True), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        'sign_in',
        sa.Column('id', sa.Integer(), primary_key=True, autoincrement=False),
        sa.Column('studio', sa.String(length=16), nullable=False),
        sa.Column('locked', sa.Boolean(), nullable=False),
    )
    op.create_table(
        'teacher_key',
        sa.Column('person_id', sa.Uuid(), sa.ForeignKey('person.id'), primary_key=True),
        sa.Column('hash', sa.String(length=200), nullable=False),
        _time('changed_at'),
    )
    op.create_table(
        'invitation',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('code_hash', sa.String(length=64), nullable=False, unique=True),
        sa.Column('role', sa.String(length=10), nullable=False),
        sa.Column('person_id', sa.Uuid(), sa.ForeignKey('person.id'), nullable=True),
        sa.Column('name', sa.String(length=80), nullable=False),
        _time('ends_at'),
        _time('used_at', nullable=True),
        sa.CheckConstraint(f'"role" in ({ROLES})', 'invitation_role'),
    )
    op.create_table(
        'device_session',
        sa.Column('id', sa.Uuid(), primary_key=True),
        sa.Column('token_hash', sa.String(length=64), nullable=False, unique=True),
        sa.Column('role', sa.String(length=10), nullable=False),
        sa.Column('person_id', sa.Uuid(), sa.ForeignKey('person.id'), nullable=True, index=True),
        sa.Column('name', sa.String(length=80), nullable=False),
        sa.Column('kind', sa.String(length=40), nullable=False),
        _time('began_at'),
        _time('seen_at'),
        _time('ends_at'),
        _time('ended_at', nullable=True),
        sa.CheckConstraint(f'"role" in ({ROLES})', 'device_session_role'),
    )
    for table in ('reading', 'move', 'fifth_check'):
        op.add_column(table, sa.Column('entered_by', sa.Uuid(), sa.ForeignKey('person.id'), nullable=True))


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0010; restore a backup made with it.')
