"""Each edit knows the first reference that it is of, so that undo brings a replaced one back."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.add_column("edit", sa.Column("reference_id", sa.Integer(), nullable=True))
    op.create_foreign_key("edit_reference", "edit", "clip", ["reference_id"], ["id"], ondelete="SET NULL")
    # what was replaced so far is gone: all edits are of the one that is there
    op.execute(
        "UPDATE edit e JOIN clip c ON c.routine_id = e.routine_id AND c.role = 'reference' AND c.number = 0 "
        "SET e.reference_id = c.id"
    )


def downgrade() -> None:
    op.execute("DELETE FROM clip WHERE role IN ('coming', 'former')")
    op.drop_constraint("edit_reference", "edit", type_="foreignkey")
    op.drop_column("edit", "reference_id")
