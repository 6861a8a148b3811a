"""The run of a long clip."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.add_column("clip", sa.Column("stretches", sa.JSON(), nullable=True))
    op.add_column("clip", sa.Column("run", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("clip", "run")
    op.drop_column("clip", "stretches")
