"""What is frozen, who did what, and what came from elsewhere.

Tastings keep the questions as they were when the codes were opened and no seed any more; seats keep who handed a link
over or typed a ballot in; trials keep the history of their design; what an archive brought carries no authority here.
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"

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
]
JSONB = postgresql.JSONB(astext_type=sa.Text())
MOMENT = sa.DateTime(timezone=True)


def _add(table: str, column: sa.Column) -> None:
    """A column with a default for the rows that are there; the models give it to new ones."""
    op.add_column(table, column)
    op.alter_column(table, column.name, server_default=None)


def upgrade() -> None:
    name = op.f("ck_entry_kind_known")
    op.drop_constraint(name, "entry", type_="check")
    known = ", ".join(f"'{v}'" for v in (*BEFORE, "cleared", "stated"))
    op.create_check_constraint(name, "entry", f"kind in ({known})")
    op.drop_column("tasting", "seed")
    _add("tasting", sa.Column("questions", JSONB, nullable=False, server_default="[]"))
    _add("tasting", sa.Column("served_with", JSONB, nullable=False, server_default="[]"))
    op.execute(
        """
        update tasting set questions = coalesce((
            select jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scale', a.scale, 'weight', a.weight,
                'low_words', a.low_words, 'high_words', a.high_words, 'high_is_better', a.high_is_better)
                order by a.position)
            from attribute a where a.trial_id = tasting.trial_id), '[]'::jsonb)
        where opened_at is not null
        """
    )
    for table in ("tasting", "ownership", "publication", "person"):
        _add(table, sa.Column("from_elsewhere", sa.Boolean(), nullable=False, server_default="false"))
    _add("kitchen", sa.Column("version", sa.Integer(), nullable=False, server_default="1"))
    _add("method", sa.Column("struck_hazards", JSONB, nullable=False, server_default="{}"))
    _add("method", sa.Column("meant", JSONB, nullable=False, server_default="{}"))
    _add("ingredient", sa.Column("allergens_checked", sa.Boolean(), nullable=False, server_default="false"))
    op.execute("update ingredient set allergens_checked = jsonb_array_length(allergens) > 0")
    op.create_table(
        "seat_act",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("seat_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("what", sa.Text(), nullable=False),
        sa.CheckConstraint("what in ('handed over', 'typed in')", name=op.f("ck_seat_act_what_known")),
        sa.ForeignKeyConstraint(
            ["seat_id"], ["seat.id"], name=op.f("fk_seat_act_seat_id_seat"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_seat_act_person_id_person")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_seat_act")),
    )
    op.create_index(op.f("ix_seat_act_seat_id"), "seat_act", ["seat_id"])
    op.execute(
        "create trigger seat_act_fixed before update or delete on seat_act "
        "for each row execute function refuse_change()"
    )
    op.create_table(
        "design_change",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("by", sa.Uuid(), nullable=True),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("changes", JSONB, nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_design_change_trial_id_trial"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["by"], ["person.id"], name=op.f("fk_design_change_by_person")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_design_change")),
    )
    op.create_index("ix_design_change_trial_id_version", "design_change", ["trial_id", "version"])
