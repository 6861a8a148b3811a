"""Takes that are marked small on purpose."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.add_column("clip", sa.Column("small", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.alter_column("clip", "small", existing_type=sa.Boolean(), existing_nullable=False, server_default=None)


def downgrade() -> None:
    op.drop_column("clip", "small")
