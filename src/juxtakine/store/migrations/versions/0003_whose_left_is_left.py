"""Whose left is left: the picture of a clip is flipped or not, and its dancer mirrors on purpose or not."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.add_column("clip", sa.Column("flipped", sa.Boolean(), nullable=True))
    op.add_column("clip", sa.Column("mirrored", sa.Boolean(), nullable=True))


def downgrade() -> None:
    op.drop_column("clip", "mirrored")
    op.drop_column("clip", "flipped")
