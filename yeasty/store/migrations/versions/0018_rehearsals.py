"""Rehearsals by buttons; who worked on a trial is found quickly."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0018"
down_revision = "0017"


def upgrade() -> None:
    op.create_table(
        "rehearsal",
        sa.Column("shift_id", sa.Uuid(), sa.ForeignKey("shift.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("of_shift_id", sa.Uuid(), sa.ForeignKey("shift.id", ondelete="SET NULL"), nullable=True),
        sa.Column("account_id", sa.Uuid(), sa.ForeignKey("account.id", ondelete="SET NULL"), nullable=True),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("problem", sa.Text(), nullable=False),
        sa.Column("hands", sa.Boolean(), nullable=False),
        sa.Column("mishaps", JSONB(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint(
            "state in ('waiting', 'running', 'over', 'failed')", name=op.f("ck_rehearsal_state_known")
        ),
    )
    op.create_index(op.f("ix_rehearsal_of_shift_id"), "rehearsal", ["of_shift_id"])
    op.create_index(op.f("ix_rehearsal_account_id"), "rehearsal", ["account_id"])
    op.create_index(op.f("ix_entry_author_id_shift_id"), "entry", ["author_id", "shift_id"])
    op.create_index(op.f("ix_design_change_by_trial_id"), "design_change", ["by", "trial_id"])
