"""What Cook needs in full: devices and their readings, simulated clocks, rescues, ranged waits, limits of holding, cue words."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"

ENTRIES = (
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
KINDS = ("hub", "scale", "meter")


def moment() -> sa.DateTime:
    return sa.DateTime(timezone=True)


def upgrade() -> None:
    text, number, whole, json = sa.Text(), sa.Float(), sa.Integer(), postgresql.JSONB()
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    op.create_check_constraint(name, "entry", "kind in (" + ", ".join(f"'{v}'" for v in ENTRIES) + ")")
    op.add_column("shift", sa.Column("clock_anchor", moment(), nullable=True))
    op.add_column("shift", sa.Column("walk_s", number, nullable=False, server_default="0"))
    op.alter_column("shift", "walk_s", server_default=None)
    op.add_column("shift", sa.Column("plan_asked_at", moment(), nullable=True))
    op.add_column("method", sa.Column("hold_limit_s", number, nullable=True))
    op.add_column("step", sa.Column("longest_s", number, nullable=True))
    op.add_column("batch", sa.Column("parent_batch_id", sa.Uuid(), nullable=True))
    op.create_foreign_key(
        op.f("fk_batch_parent_batch_id_batch"),
        "batch",
        "batch",
        ["parent_batch_id"],
        ["id"],
        ondelete="RESTRICT",
        deferrable=True,
        initially="DEFERRED",
    )
    op.create_index(op.f("ix_batch_parent_batch_id"), "batch", ["parent_batch_id"])
    op.create_table(
        "device",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", text, nullable=False),
        sa.Column("kind", text, nullable=False),
        sa.Column("token_hash", text, nullable=False),
        sa.Column("appliance_id", sa.Uuid(), nullable=True),
        sa.Column("simulated_shift_id", sa.Uuid(), nullable=True),
        sa.Column("last_seq", sa.BigInteger(), nullable=False),
        sa.Column("missing", json, nullable=False),
        sa.Column("channels", json, nullable=False),
        sa.Column("offset_ms", number, nullable=False),
        sa.Column("battery", number, nullable=True),
        sa.Column("heard_at", moment(), nullable=True),
        sa.Column("made_at", moment(), nullable=False),
        sa.Column("made_by", sa.Uuid(), nullable=True),
        sa.Column("revoked_at", moment(), nullable=True),
        sa.CheckConstraint(
            "kind in (" + ", ".join(f"'{v}'" for v in KINDS) + ")", name=op.f("ck_device_kind_known")
        ),
        sa.ForeignKeyConstraint(
            ["appliance_id"],
            ["appliance.id"],
            name=op.f("fk_device_appliance_id_appliance"),
            ondelete="SET NULL",
        ),
        sa.ForeignKeyConstraint(
            ["simulated_shift_id"],
            ["shift.id"],
            name=op.f("fk_device_simulated_shift_id_shift"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(["made_by"], ["person.id"], name=op.f("fk_device_made_by_person")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_device")),
    )
    op.create_index(op.f("ix_device_token_hash"), "device", ["token_hash"], unique=True)
    op.create_table(
        "reading_chunk",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("device_id", sa.Uuid(), nullable=False),
        sa.Column("channel", text, nullable=False),
        sa.Column("measure", text, nullable=False),
        sa.Column("starts_at", moment(), nullable=False),
        sa.Column("ends_at", moment(), nullable=False),
        sa.Column("count", whole, nullable=False),
        sa.Column("low", number, nullable=True),
        sa.Column("high", number, nullable=True),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["device_id"], ["device.id"], name=op.f("fk_reading_chunk_device_id_device"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_reading_chunk")),
    )
    op.create_index(
        "ix_reading_chunk_device_channel_ends", "reading_chunk", ["device_id", "channel", "ends_at"]
    )
    op.create_table(
        "reading_tail",
        sa.Column("device_id", sa.Uuid(), nullable=False),
        sa.Column("channel", text, nullable=False),
        sa.Column("measure", text, nullable=False),
        sa.Column("starts_at", moment(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["device_id"], ["device.id"], name=op.f("fk_reading_tail_device_id_device"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("device_id", "channel", "measure", name=op.f("pk_reading_tail")),
    )
    op.create_table(
        "cue_word",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("technique", text, nullable=False),
        sa.Column("face", text, nullable=False),
        sa.Column("text", text, nullable=False),
        sa.Column("added_at", moment(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_cue_word")),
        sa.UniqueConstraint("technique", "face", "text", name=op.f("uq_cue_word_technique_face_text")),
    )
