"""Claims are kept as picks; methods say what they are for; pieces are counted in the log."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"


# As they stood in the code at this revision.
BEFORE = [
    "started",
    "done",
    "in",
    "turned",
    "out",
    "temperature",
    "weight",
    "energy",
    "cue",
    "photo",
    "note",
    "extended",
    "effort",
    "handling_error",
    "void",
    "washed",
    "ready",
    "undone",
    "confirmed",
    "looked",
    "timer",
    "timer_done",
    "probe",
    "rescued",
    "wash_item",
    "foreseen",
    "cleared",
    "stated",
    "size",
]


def upgrade() -> None:
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    known = ", ".join(f"'{v}'" for v in (*BEFORE, "tally"))
    op.create_check_constraint(name, "entry", f"kind in ({known})")
    op.add_column("method", sa.Column("purpose", sa.Text(), nullable=False, server_default=""))
    op.alter_column("method", "purpose", server_default=None)
    op.create_table(
        "claim",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("trial_id", sa.Uuid(), sa.ForeignKey("trial.id", ondelete="CASCADE"), nullable=False),
        sa.Column("measure", sa.Text(), nullable=False),
        sa.Column("subject_id", sa.Uuid(), sa.ForeignKey("method.id", ondelete="CASCADE"), nullable=False),
        sa.Column("other_id", sa.Uuid(), sa.ForeignKey("method.id", ondelete="CASCADE"), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index(op.f("ix_claim_trial_id"), "claim", ["trial_id"])
