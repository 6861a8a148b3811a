"""Who is followed."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.add_column("clip", sa.Column("clicks", sa.JSON(), nullable=True))


def downgrade() -> None:
    op.drop_column("clip", "clicks")
