"""What a probe foretells as a kind of entry; shifts whose batches are tasted each at the same age."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"

BEFORE = (
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
)


def upgrade() -> None:
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    op.create_check_constraint(
        name, "entry", "kind in (" + ", ".join(f"'{v}'" for v in (*BEFORE, "foreseen")) + ")"
    )
    op.add_column("shift", sa.Column("same_age", sa.Boolean(), nullable=False, server_default="false"))
    op.alter_column("shift", "same_age", server_default=None)
