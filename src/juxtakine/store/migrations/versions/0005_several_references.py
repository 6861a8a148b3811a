"""Several references of a routine, one put together from pieces, and which one a take is beside."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.add_column("clip", sa.Column("role", sa.String(length=16), nullable=False, server_default="take"))
    op.execute("UPDATE clip SET role = 'reference' WHERE number = 0")
    op.alter_column("clip", "role", existing_type=sa.String(length=16), existing_nullable=False, server_default=None)
    op.create_unique_constraint("routine_id_2", "clip", ["routine_id", "role", "number"])
    op.drop_constraint("routine_id", "clip", type_="unique")
    op.add_column("clip", sa.Column("placed", sa.JSON(), nullable=True))
    op.add_column("clip", sa.Column("parts", sa.JSON(), nullable=True))
    op.add_column("clip", sa.Column("against_id", sa.Integer(), nullable=True))
    op.create_foreign_key("clip_against", "clip", "clip", ["against_id"], ["id"], ondelete="SET NULL")
    op.add_column("comparison", sa.Column("reference_id", sa.Integer(), nullable=True))
    op.create_foreign_key("comparison_reference", "comparison", "clip", ["reference_id"], ["id"], ondelete="SET NULL")
    # what was compared so far was compared with the only reference there was
    op.execute(
        "UPDATE comparison c JOIN clip t ON t.id = c.clip_id JOIN clip r ON r.routine_id = t.routine_id "
        "AND r.role = 'reference' SET c.reference_id = r.id"
    )
    op.create_table(
        "piece",
        sa.Column("routine_id", sa.Integer(), nullable=False),
        sa.Column("phrase", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("clip_id", sa.Integer(), nullable=False),
        sa.Column("first_s", sa.Double(), nullable=False),
        sa.Column("next_s", sa.Double(), nullable=False),
        sa.Column("flipped", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["routine_id"], ["routine.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("routine_id", "phrase"),
    )


def downgrade() -> None:
    op.drop_table("piece")
    op.drop_constraint("comparison_reference", "comparison", type_="foreignkey")
    op.drop_column("comparison", "reference_id")
    op.drop_constraint("clip_against", "clip", type_="foreignkey")
    op.drop_column("clip", "against_id")
    op.drop_column("clip", "parts")
    op.drop_column("clip", "placed")
    op.execute("DELETE FROM clip WHERE role = 'reference' AND number > 0")
    op.create_unique_constraint("routine_id", "clip", ["routine_id", "number"])
    op.drop_constraint("routine_id_2", "clip", type_="unique")
    op.drop_column("clip", "role")
