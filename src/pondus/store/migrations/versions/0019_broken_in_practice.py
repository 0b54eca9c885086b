"""A string that broke in practice ended nowhere: that is kept as nothing, no longer as a figure that stands for it."""

from alembic import op

revision = '0019'
down_revision = '0018'
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "UPDATE practice_answer SET outcome = jsonb_set(outcome, '{ended_cents}', 'null')"
        " WHERE (outcome ->> 'ended_cents')::float = -9999"
    )


def downgrade() -> None:
    raise RuntimeError('There is no way back to 0018; restore a backup made with it.')
