"""How long slow work takes, and that it can be stopped."""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"


def upgrade() -> None:
    op.create_table(
        "work",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("subject", sa.Uuid(), nullable=True),
        sa.Column("began_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("outcome", sa.Text(), nullable=False),
        sa.Column("stand", sa.Text(), nullable=False),
        sa.CheckConstraint(
            "kind in ('plan', 'what_if', 'verdict', 'pdf', 'archive')", name=op.f("ck_work_kind_known")
        ),
        sa.CheckConstraint("outcome in ('', 'done', 'stopped')", name=op.f("ck_work_outcome_known")),
    )
    op.create_index(op.f("ix_work_kind"), "work", ["kind"])
