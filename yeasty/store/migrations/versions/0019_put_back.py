"""What was taken away can be put back for a minute; a verdict was looked at or not yet."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0019"
down_revision = "0018"


def upgrade() -> None:
    op.create_table(
        "taken_away",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("account_id", sa.Uuid(), sa.ForeignKey("account.id", ondelete="CASCADE"), nullable=False),
        sa.Column("trial_id", sa.Uuid(), sa.ForeignKey("trial.id", ondelete="CASCADE"), nullable=True),
        sa.Column("version", sa.Integer(), nullable=True),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("deed", sa.Text(), nullable=False),
        sa.Column("rows", JSONB(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "verdict_look",
        sa.Column("trial_id", sa.Uuid(), sa.ForeignKey("trial.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
    )
    # Whether an old one was looked at nobody wrote down: none of them is news.
    op.execute("insert into verdict_look select id, now() from trial")
    for column in ("account_id", "trial_id", "at"):
        op.create_index(op.f(f"ix_taken_away_{column}"), "taken_away", [column])
