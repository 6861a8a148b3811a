"""The first tables"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "routine",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("edit", sa.Integer(), nullable=False),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("demo", sa.String(length=40), nullable=True),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("demo"),
    )
    op.create_table(
        "clip",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("routine_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=255), nullable=False),
        sa.Column("content", sa.String(length=64), nullable=False),
        sa.Column("start_s", sa.Double(), nullable=False),
        sa.Column("duration_s", sa.Double(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("fps", sa.Double(), nullable=False),
        sa.Column("frames", sa.Integer(), nullable=False),
        sa.Column("has_sound", sa.Boolean(), nullable=False),
        sa.Column("model", sa.String(length=16), nullable=False),
        sa.Column("grid", sa.JSON(), nullable=True),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["routine_id"], ["routine.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("routine_id", "number"),
    )
    op.create_index(op.f("ix_clip_content"), "clip", ["content"], unique=False)
    op.create_table(
        "edit",
        sa.Column("routine_id", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), autoincrement=False, nullable=False),
        sa.Column("sheet", sa.JSON(), nullable=False),
        sa.Column("grid", sa.JSON(), nullable=True),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["routine_id"], ["routine.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("routine_id", "number"),
    )
    op.create_table(
        "comparison",
        sa.Column("clip_id", sa.Integer(), nullable=False),
        sa.Column("inputs", sa.String(length=64), nullable=False),
        sa.Column("result", mysql.MEDIUMTEXT(), nullable=False),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("clip_id"),
    )
    op.create_table(
        "job",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("clip_id", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(length=16), nullable=False),
        sa.Column("state", sa.String(length=16), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("error", sa.Text(), nullable=True),
        sa.Column("worker", sa.String(length=64), nullable=True),
        sa.Column("made_at", mysql.DATETIME(fsp=6), nullable=False),
        sa.Column("started_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.Column("heartbeat_at", mysql.DATETIME(fsp=6), nullable=True),
        sa.ForeignKeyConstraint(["clip_id"], ["clip.id"], ondelete="CASCADE"),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_job_state"), "job", ["state"], unique=False)


def downgrade() -> None:
    op.drop_index(op.f("ix_job_state"), table_name="job")
    op.drop_table("job")
    op.drop_table("comparison")
    op.drop_table("edit")
    op.drop_index(op.f("ix_clip_content"), table_name="clip")
    op.drop_table("clip")
    op.drop_table("routine")
