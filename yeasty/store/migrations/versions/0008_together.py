"""What is cooked together has one word, in batches and methods; a piece says whether its weight is made up; sizes are logged."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


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
]


def upgrade() -> None:
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    known = ", ".join(f"'{v}'" for v in (*BEFORE, "size"))
    op.create_check_constraint(name, "entry", f"kind in ({known})")
    op.add_column("method", sa.Column("together", sa.Text(), nullable=False, server_default=""))
    op.alter_column("method", "together", server_default=None)
    op.add_column("piece", sa.Column("simulated", sa.Boolean(), nullable=False, server_default="false"))
    op.alter_column("piece", "simulated", server_default=None)
    op.execute(
        "UPDATE batch SET facts = facts - 'pot' || jsonb_build_object('together', facts->'pot') WHERE facts ? 'pot'"
    )
