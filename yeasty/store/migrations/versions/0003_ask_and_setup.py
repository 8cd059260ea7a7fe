"""What Ask and Set up need in full: kinds of trial, family, pieces, maps, library, promises, guesses, readiness."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"

KINDS = (
    "side_by_side",
    "one_change",
    "champion",
    "grid",
    "ladder",
    "branch",
    "screening",
    "chain",
    "varieties",
)
DONE_RULES = ("by_clock", "by_state", "until_match")
END_RULES = ("clock", "core", "cue", "weight", "match")
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
)
VESSELS = ("tray", "basket", "rack", "grill", "pot", "plate")
SOURCES = ("own", "note", "what_next", "reader")


def moment() -> sa.DateTime:
    return sa.DateTime(timezone=True)


def known(table: str, column: str, values: tuple[str, ...]) -> None:
    name = op.f(f"ck_{table}_{column}_known")
    op.drop_constraint(name, table, type_="check")
    op.create_check_constraint(name, table, f"{column} in (" + ", ".join(f"'{v}'" for v in values) + ")")


def add(table: str, column: str, kind: sa.types.TypeEngine, default: str | None) -> None:
    """A column; rows that are there already get `default`, or null where it is None."""
    op.add_column(table, sa.Column(column, kind, nullable=default is None, server_default=default))
    if default is not None:
        op.alter_column(table, column, server_default=None)


def link(table: str, column: str, target: str, ondelete: str, **more: object) -> None:
    op.create_foreign_key(
        op.f(f"fk_{table}_{column}_{target}"), table, target, [column], ["id"], ondelete=ondelete, **more
    )


def foreign(
    table: str, column: str, target: str, ondelete: str | None = None, **more: object
) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(
        [column], [f"{target}.id"], name=op.f(f"fk_{table}_{column}_{target}"), ondelete=ondelete, **more
    )


def upgrade() -> None:
    text, number, whole, json = sa.Text(), sa.Float(), sa.Integer(), postgresql.JSONB()
    for table, column, values in (
        ("trial", "kind", KINDS),
        ("trial", "done_rule", DONE_RULES),
        ("step", "end_rule", END_RULES),
        ("entry", "kind", ENTRIES),
    ):
        known(table, column, values)
    for column, kind, default in (
        ("layout", json, "{}"),
        ("matches", text, ""),
        ("parent_trial_id", sa.Uuid(), None),
        ("parent_words", text, ""),
        ("room_c", number, None),
        ("weather", text, ""),
        ("batches_each", whole, "1"),
        ("serving_kg", number, None),
        ("eaters", whole, "0"),
        ("leftover_use", text, ""),
        ("guess_token", text, ""),
        ("guesses_closed_at", moment(), None),
    ):
        add("trial", column, kind, default)
    link("trial", "parent_trial_id", "trial", "SET NULL")
    op.create_index(op.f("ix_trial_parent_trial_id"), "trial", ["parent_trial_id"])
    op.create_index(op.f("ix_trial_guess_token"), "trial", ["guess_token"])
    for column, kind, default in (
        ("levels", json, "[]"),
        ("vessel", text, ""),
        ("lid", text, ""),
        ("place", text, ""),
        ("operator", text, ""),
        ("checks", json, "[]"),
        ("parent_method_id", sa.Uuid(), None),
        ("parent_words", text, ""),
        ("change", text, ""),
        ("aimed_defect", text, ""),
        ("outcome", text, ""),
        ("failed_tries", whole, "0"),
        ("verdict_word", text, ""),
        ("verdict_note", text, ""),
    ):
        add("method", column, kind, default)
    link("method", "parent_method_id", "method", "SET NULL", deferrable=True, initially="DEFERRED")
    op.create_index(op.f("ix_method_parent_method_id"), "method", ["parent_method_id"])
    add("step", "end_kg", number, None)
    add("step", "days_before", whole, "0")
    for column, kind, default in (
        ("grade", text, ""),
        ("age_days", number, None),
        ("pack_kg", number, None),
        ("composition", json, "{}"),
        ("stands_for", json, "{}"),
        ("from_method_id", sa.Uuid(), None),
    ):
        add("ingredient", column, kind, default)
    link("ingredient", "from_method_id", "method", "SET NULL")
    add("appliance", "dial", json, "[]")
    add("appliance", "capacities", json, "[]")
    op.create_table(
        "piece",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", whole, nullable=False),
        sa.Column("ingredient_id", sa.Uuid(), nullable=True),
        sa.Column("mass_kg", number, nullable=False),
        sa.Column("part", text, nullable=False),
        sa.Column("method_id", sa.Uuid(), nullable=True),
        sa.Column("replicate", whole, nullable=False),
        sa.Column("spare", sa.Boolean(), nullable=False),
        sa.CheckConstraint("mass_kg > 0", name=op.f("ck_piece_mass_above_zero")),
        foreign("piece", "trial_id", "trial", "CASCADE"),
        foreign("piece", "ingredient_id", "ingredient", "SET NULL"),
        foreign("piece", "method_id", "method", "SET NULL"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_piece")),
    )
    op.create_index(op.f("ix_piece_trial_id"), "piece", ["trial_id"])
    op.create_table(
        "dealing",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("seed", whole, nullable=False),
        sa.Column("tolerance", number, nullable=False),
        sa.Column("result", json, nullable=False),
        sa.Column("made_at", moment(), nullable=False),
        foreign("dealing", "trial_id", "trial", "CASCADE"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_dealing")),
    )
    op.create_index(op.f("ix_dealing_trial_id"), "dealing", ["trial_id"])
    op.create_table(
        "place_map",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", whole, nullable=False),
        sa.Column("name", text, nullable=False),
        sa.Column("kind", text, nullable=False),
        sa.Column("round", sa.Boolean(), nullable=False),
        sa.Column("width_m", number, nullable=False),
        sa.Column("depth_m", number, nullable=False),
        sa.Column("piece_m", number, nullable=False),
        sa.Column("spacing_m", number, nullable=False),
        sa.Column("places", json, nullable=False),
        sa.Column("spots", json, nullable=False),
        sa.Column("dealt_how", text, nullable=False),
        sa.Column("handed_from", sa.Uuid(), nullable=True),
        sa.CheckConstraint(
            "kind in (" + ", ".join(f"'{v}'" for v in VESSELS) + ")", name=op.f("ck_place_map_kind_known")
        ),
        foreign("place_map", "trial_id", "trial", "CASCADE"),
        foreign("place_map", "handed_from", "place_map", "SET NULL", deferrable=True, initially="DEFERRED"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_place_map")),
    )
    op.create_index(op.f("ix_place_map_trial_id"), "place_map", ["trial_id"])
    op.create_table(
        "technique",
        sa.Column("key", text, nullable=False),
        sa.Column("record", json, nullable=False),
        sa.Column("hidden", sa.Boolean(), nullable=False),
        sa.Column("changed_at", moment(), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_technique")),
    )
    op.create_table(
        "sway",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("field", text, nullable=False),
        sa.Column("attributes", json, nullable=False),
        sa.Column("strength", whole, nullable=False),
        sa.Column("reason", text, nullable=False),
        sa.Column("set_at", moment(), nullable=False),
        sa.CheckConstraint("strength between 0 and 3", name=op.f("ck_sway_strength_known")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sway")),
    )
    op.create_table(
        "promise",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("text", text, nullable=False),
        sa.Column("dish", text, nullable=False),
        sa.Column("source", text, nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=True),
        sa.Column("entry_id", sa.Uuid(), nullable=True),
        sa.Column("became_trial_id", sa.Uuid(), nullable=True),
        sa.Column("closed_at", moment(), nullable=True),
        sa.Column("closed_why", text, nullable=False),
        sa.Column("added_at", moment(), nullable=False),
        sa.Column("added_by", sa.Uuid(), nullable=True),
        sa.CheckConstraint(
            "source in (" + ", ".join(f"'{v}'" for v in SOURCES) + ")", name=op.f("ck_promise_source_known")
        ),
        foreign("promise", "trial_id", "trial", "SET NULL"),
        foreign("promise", "became_trial_id", "trial", "SET NULL"),
        foreign("promise", "added_by", "person"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_promise")),
    )
    op.create_index(op.f("ix_promise_trial_id"), "promise", ["trial_id"])
    op.create_index(op.f("ix_promise_entry_id"), "promise", ["entry_id"])
    op.create_table(
        "guess",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("who", text, nullable=False),
        sa.Column("method_id", sa.Uuid(), nullable=True),
        sa.Column("why", text, nullable=False),
        sa.Column("by_link", sa.Boolean(), nullable=False),
        sa.Column("given_at", moment(), nullable=False),
        foreign("guess", "trial_id", "trial", "CASCADE"),
        foreign("guess", "method_id", "method", "SET NULL"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_guess")),
    )
    op.create_index(op.f("ix_guess_trial_id"), "guess", ["trial_id"])
