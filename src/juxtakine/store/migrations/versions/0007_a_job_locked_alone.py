"""No index on a job's state: by it, who changes one running job would lock all that run."""

from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.drop_index("ix_job_state", table_name="job")


def downgrade() -> None:
    op.create_index("ix_job_state", "job", ["state"], unique=False)
