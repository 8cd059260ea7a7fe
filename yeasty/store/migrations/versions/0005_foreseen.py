"""An entry kind more: when a running step will end by its probe."""

from alembic import op

revision = "0005"
down_revision = "0004"

BEFORE = ("started", "done", "in", "turned", "out", "temperature", "weight", "energy", "cue", "photo", "note", "extended",
          "effort", "handling_error", "void", "washed", "ready", "undone", "confirmed", "looked", "timer", "timer_done", "probe",
          "rescued", "wash_item")  # fmt: skip


def upgrade() -> None:
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    op.create_check_constraint(name, "entry", "kind in (" + ", ".join(f"'{v}'" for v in (*BEFORE, "foreseen")) + ")")
