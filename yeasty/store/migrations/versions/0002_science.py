"""What the science of heat and safety needs: kinds of food, pieces, circuits, measurements, records, figures, ownership."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"

KINDS = (
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
    "undone",
)
TRIGGERS = """
create trigger ownership_fixed before update or delete on ownership for each row execute function refuse_change();
create trigger rule_record_fixed before update or delete on rule_record for each row execute function refuse_change();
create trigger limit_check_fixed before update or delete on limit_check for each row execute function refuse_change();
"""


def moment() -> sa.DateTime:
    return sa.DateTime(timezone=True)


def person(column: str, table: str) -> tuple[sa.Column, sa.ForeignKeyConstraint]:
    return (
        sa.Column(column, sa.Uuid(), nullable=True),
        sa.ForeignKeyConstraint([column], ["person.id"], name=op.f(f"fk_{table}_{column}_person")),
    )


def upgrade() -> None:
    text, number = sa.Text, sa.Float
    op.add_column("trial", sa.Column("food_class", text(), nullable=False, server_default=""))
    op.add_column("method", sa.Column("piece_shape", text(), nullable=False, server_default=""))
    op.add_column("method", sa.Column("piece_thickness_m", number(), nullable=True))
    op.add_column("method", sa.Column("piece_food", text(), nullable=False, server_default=""))
    op.add_column("step", sa.Column("dial_for_c", number(), nullable=True))
    op.add_column("step", sa.Column("for_altitude_m", number(), nullable=True))
    op.add_column("batch", sa.Column("facts", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.add_column("kitchen", sa.Column("altitude_m", number(), nullable=False, server_default="0"))
    op.add_column("kitchen", sa.Column("safety_profile", text(), nullable=False, server_default="strictest"))
    op.add_column("kitchen", sa.Column("zone_use_s", number(), nullable=True))
    for table, columns in (
        ("trial", ["food_class"]),
        ("method", ["piece_shape", "piece_food"]),
        ("batch", ["facts"]),
        ("kitchen", ["altitude_m", "safety_profile"]),
    ):
        for column in columns:
            op.alter_column(table, column, server_default=None)
    op.drop_constraint(op.f("ck_entry_kind_known"), "entry", type_="check")
    op.create_check_constraint(
        op.f("ck_entry_kind_known"), "entry", "kind in (" + ", ".join(f"'{k}'" for k in KINDS) + ")"
    )
    op.create_table(
        "circuit",
        sa.Column("name", text(), nullable=False),
        sa.Column("breaker_a", number(), nullable=False),
        sa.Column("voltage_v", number(), nullable=False),
        sa.Column("base_w", number(), nullable=False),
        sa.PrimaryKeyConstraint("name", name=op.f("pk_circuit")),
    )
    op.create_table(
        "measurement",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("appliance_id", sa.Uuid(), nullable=False),
        sa.Column("kind", text(), nullable=False),
        sa.Column("given", postgresql.JSONB(), nullable=False),
        sa.Column("result", postgresql.JSONB(), nullable=False),
        sa.Column("taken_at", moment(), nullable=False),
        *person("taken_by", "measurement"),
        sa.Column("struck_at", moment(), nullable=True),
        sa.Column("struck_why", text(), nullable=False),
        sa.CheckConstraint(
            "kind in ('water-test', 'offset', 'preheat')", name=op.f("ck_measurement_kind_known")
        ),
        sa.ForeignKeyConstraint(
            ["appliance_id"],
            ["appliance.id"],
            name=op.f("fk_measurement_appliance_id_appliance"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_measurement")),
    )
    op.create_index(op.f("ix_measurement_appliance_id"), "measurement", ["appliance_id"])
    op.create_table(
        "rule_record",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("rule", text(), nullable=False),
        sa.Column("predicted", number(), nullable=False),
        sa.Column("observed", number(), nullable=False),
        sa.Column("note", text(), nullable=False),
        sa.Column("simulated", sa.Boolean(), nullable=False),
        sa.Column("added_at", moment(), nullable=False),
        *person("added_by", "rule_record"),
        sa.CheckConstraint("predicted > 0 and observed > 0", name=op.f("ck_rule_record_above_zero")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rule_record")),
    )
    op.create_index(op.f("ix_rule_record_rule"), "rule_record", ["rule"])
    op.create_table(
        "limit_change",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("limit_id", text(), nullable=False),
        sa.Column("temperature_c", number(), nullable=False),
        sa.Column("hold_s", number(), nullable=False),
        sa.Column("reason", text(), nullable=False),
        sa.Column("set_at", moment(), nullable=False),
        *person("set_by", "limit_change"),
        sa.Column("withdrawn_at", moment(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_limit_change")),
    )
    op.create_table(
        "limit_check",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("limit_id", text(), nullable=False),
        sa.Column("edition", text(), nullable=False),
        sa.Column("page", text(), nullable=False),
        sa.Column("checked_at", moment(), nullable=False),
        *person("checked_by", "limit_check"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_limit_check")),
    )
    op.create_table(
        "ownership",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_id", sa.Uuid(), nullable=False),
        sa.Column("why", text(), nullable=False),
        sa.Column("owned_at", moment(), nullable=False),
        *person("owned_by", "ownership"),
        sa.ForeignKeyConstraint(
            ["batch_id"], ["batch.id"], name=op.f("fk_ownership_batch_id_batch"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ownership")),
    )
    op.create_index(op.f("ix_ownership_batch_id"), "ownership", ["batch_id"])
    op.execute(TRIGGERS)
