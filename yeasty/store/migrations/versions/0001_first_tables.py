"""The first tables: people, kitchen, trials, bench log, tastings, publications, and the job queue's own."""

from pathlib import Path

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None

APPEND_ONLY = """
create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception '% is append-only: write a new row that corrects the old one', tg_table_name using errcode = 'restrict_violation';
end $$;
create trigger entry_append_only before update or delete on entry for each row execute function refuse_change();
create trigger entry_no_truncate before truncate on entry execute function refuse_change();
create trigger answer_append_only before update or delete on answer for each row execute function refuse_change();
create trigger answer_no_truncate before truncate on answer execute function refuse_change();
create trigger sample_fixed before update or delete on sample for each row execute function refuse_change();
create trigger key_view_fixed before update or delete on key_view for each row execute function refuse_change();

create function only_withdrawal() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' or old.withdrawn_at is not null
     or (to_jsonb(new) - 'withdrawn_at' - 'withdrawn_why') <> (to_jsonb(old) - 'withdrawn_at' - 'withdrawn_why') then
    raise exception 'a publication is frozen: publish a correction, or withdraw it' using errcode = 'restrict_violation';
  end if;
  return new;
end $$;
create trigger publication_frozen before update or delete on publication for each row execute function only_withdrawal();
"""


def upgrade() -> None:
    op.create_table(
        "appliance",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("input_w", sa.Double(), nullable=True),
        sa.Column("rated_w", sa.Double(), nullable=True),
        sa.Column("measured_w", sa.Double(), nullable=True),
        sa.Column("offset_k", sa.Double(), nullable=True),
        sa.Column("capacity_pieces", sa.Integer(), nullable=True),
        sa.Column("circuit", sa.Text(), nullable=False),
        sa.Column("spot", sa.Text(), nullable=False),
        sa.Column("notes", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_appliance")),
    )
    op.create_table(
        "kitchen",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("time_zone", sa.Text(), nullable=False),
        sa.Column("currency", sa.Text(), nullable=False),
        sa.Column("price_per_kwh", sa.Numeric(precision=10, scale=4), nullable=True),
        sa.Column("public_address", sa.Text(), nullable=False),
        sa.Column("incarnation", sa.Uuid(), nullable=False),
        sa.Column("secret", sa.Text(), nullable=False),
        sa.CheckConstraint("id = 1", name=op.f("ck_kitchen_one_kitchen")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_kitchen")),
    )
    op.create_table(
        "person",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("contact", sa.Text(), nullable=False),
        sa.Column("erased_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("erased_reason", sa.Text(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
    )
    op.create_table(
        "sign_in_attempt",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("login", sa.Text(), nullable=False),
        sa.Column("address", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in_attempt")),
    )
    op.create_index("ix_sign_in_attempt_address_at", "sign_in_attempt", ["address", "at"], unique=False)
    op.create_index("ix_sign_in_attempt_login_at", "sign_in_attempt", ["login", "at"], unique=False)
    op.create_table(
        "trial",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("title", sa.Text(), nullable=False),
        sa.Column("question", sa.Text(), nullable=False),
        sa.Column("dish", sa.Text(), nullable=False),
        sa.Column("aliases", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("fairness", sa.Text(), nullable=False),
        sa.Column("done_rule", sa.Text(), nullable=False),
        sa.Column("answer_rule", sa.Text(), nullable=False),
        sa.Column("matters", sa.Double(), nullable=False),
        sa.Column("hunch", sa.Text(), nullable=False),
        sa.Column("pieces", sa.Integer(), nullable=False),
        sa.Column("varied", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("simulated", sa.Boolean(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("updated_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.CheckConstraint("done_rule in ('by_clock', 'by_state')", name=op.f("ck_trial_done_rule_known")),
        sa.CheckConstraint(
            "fairness in ('same_recipe', 'each_at_its_best')", name=op.f("ck_trial_fairness_known")
        ),
        sa.CheckConstraint("kind in ('side_by_side', 'one_change')", name=op.f("ck_trial_kind_known")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_trial")),
    )
    op.create_index("ix_trial_updated_at_id", "trial", ["updated_at", "id"], unique=False)
    op.create_table(
        "accepted_difference",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("field", sa.Text(), nullable=False),
        sa.Column("signature", sa.Text(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("accepted_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_accepted_difference_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_accepted_difference")),
        sa.UniqueConstraint("trial_id", "field", name=op.f("uq_accepted_difference_trial_id_field")),
    )
    op.create_index(
        op.f("ix_accepted_difference_trial_id"), "accepted_difference", ["trial_id"], unique=False
    )
    op.create_table(
        "account",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("login", sa.Text(), nullable=False),
        sa.Column("password_hash", sa.Text(), nullable=False),
        sa.Column("role", sa.Text(), nullable=False),
        sa.Column("units", sa.Text(), nullable=False),
        sa.Column("dark", sa.Boolean(), nullable=False),
        sa.Column("session_epoch", sa.Integer(), nullable=False),
        sa.Column("active", sa.Boolean(), nullable=False),
        sa.CheckConstraint("role in ('lead', 'cook')", name=op.f("ck_account_role_known")),
        sa.CheckConstraint("units in ('metric', 'us')", name=op.f("ck_account_units_known")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_account_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_account")),
        sa.UniqueConstraint("login", name=op.f("uq_account_login")),
        sa.UniqueConstraint("person_id", name=op.f("uq_account_person_id")),
    )
    op.create_table(
        "analysis",
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("basis", sa.Text(), nullable=False),
        sa.Column("result", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_analysis_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("trial_id", "kind", name=op.f("pk_analysis")),
    )
    op.create_table(
        "attribute",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("scale", sa.Text(), nullable=False),
        sa.Column("weight", sa.Double(), nullable=False),
        sa.Column("low_words", sa.Text(), nullable=False),
        sa.Column("high_words", sa.Text(), nullable=False),
        sa.Column("high_is_better", sa.Boolean(), nullable=False),
        sa.CheckConstraint("scale in ('intensity', 'liking', 'rank')", name=op.f("ck_attribute_scale_known")),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_attribute_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_attribute")),
        sa.UniqueConstraint("trial_id", "name", name=op.f("uq_attribute_trial_id_name")),
    )
    op.create_index(op.f("ix_attribute_trial_id"), "attribute", ["trial_id"], unique=False)
    op.create_table(
        "control",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("held_at", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_control_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_control")),
    )
    op.create_index(op.f("ix_control_trial_id"), "control", ["trial_id"], unique=False)
    op.create_table(
        "ingredient",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("lot", sa.Text(), nullable=False),
        sa.Column("source", sa.Text(), nullable=False),
        sa.Column("price_per_kg", sa.Numeric(precision=12, scale=4), nullable=True),
        sa.Column("allergens", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_ingredient_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ingredient")),
        sa.UniqueConstraint("trial_id", "name", name=op.f("uq_ingredient_trial_id_name")),
    )
    op.create_index(op.f("ix_ingredient_trial_id"), "ingredient", ["trial_id"], unique=False)
    op.create_table(
        "method",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("technique", sa.Text(), nullable=False),
        sa.Column("mark", sa.Integer(), nullable=False),
        sa.Column("tag", sa.Text(), nullable=False),
        sa.Column("batch_kg", sa.Double(), nullable=True),
        sa.Column("pieces_per_batch", sa.Integer(), nullable=False),
        sa.Column("piece_kg", sa.Double(), nullable=True),
        sa.Column("start_c", sa.Double(), nullable=True),
        sa.Column("gear", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("hazards", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_method_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_method")),
        sa.UniqueConstraint("trial_id", "mark", name=op.f("uq_method_trial_id_mark")),
        sa.UniqueConstraint("trial_id", "tag", name=op.f("uq_method_trial_id_tag")),
    )
    op.create_index(op.f("ix_method_trial_id"), "method", ["trial_id"], unique=False)
    op.create_table(
        "photo",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("media_type", sa.Text(), nullable=False),
        sa.Column("full", sa.LargeBinary(), nullable=True),
        sa.Column("thumb", sa.LargeBinary(), nullable=True),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("added_by", sa.Uuid(), nullable=True),
        sa.Column("erased_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("erased_reason", sa.Text(), nullable=True),
        sa.ForeignKeyConstraint(["added_by"], ["person.id"], name=op.f("fk_photo_added_by")),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_photo_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photo")),
    )
    op.create_index(op.f("ix_photo_trial_id"), "photo", ["trial_id"], unique=False)
    op.create_table(
        "publication",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("slug", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("correction", sa.Text(), nullable=False),
        sa.Column("published_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("published_by", sa.Uuid(), nullable=True),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("withdrawn_why", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["published_by"], ["person.id"], name=op.f("fk_publication_published_by")),
        sa.ForeignKeyConstraint(["trial_id"], ["trial.id"], name=op.f("fk_publication_trial_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_publication")),
        sa.UniqueConstraint("slug", "version", name=op.f("uq_publication_slug_version")),
        sa.UniqueConstraint("trial_id", "version", name=op.f("uq_publication_trial_id_version")),
    )
    op.create_index(op.f("ix_publication_trial_id"), "publication", ["trial_id"], unique=False)
    op.create_table(
        "shift",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("serve_from", sa.DateTime(timezone=True), nullable=False),
        sa.Column("serve_until", sa.DateTime(timezone=True), nullable=False),
        sa.Column("people", sa.Integer(), nullable=False),
        sa.Column("clock_origin", sa.DateTime(timezone=True), nullable=True),
        sa.Column("clock_rate", sa.Double(), nullable=True),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("last_number", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_shift_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shift")),
    )
    op.create_index(op.f("ix_shift_trial_id"), "shift", ["trial_id"], unique=False)
    op.create_table(
        "tasting",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("part", sa.Text(), nullable=False),
        sa.Column("age_words", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("opened_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("opened_by", sa.Uuid(), nullable=True),
        sa.ForeignKeyConstraint(["opened_by"], ["person.id"], name=op.f("fk_tasting_opened_by")),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_tasting_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_tasting")),
    )
    op.create_index(op.f("ix_tasting_trial_id"), "tasting", ["trial_id"], unique=False)
    op.create_table(
        "batch",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shift_id", sa.Uuid(), nullable=False),
        sa.Column("method_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("replicate", sa.Integer(), nullable=False),
        sa.Column("steps", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(
            ["method_id"], ["method.id"], name=op.f("fk_batch_method_id"), ondelete="RESTRICT"
        ),
        sa.ForeignKeyConstraint(
            ["shift_id"], ["shift.id"], name=op.f("fk_batch_shift_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch")),
        sa.UniqueConstraint(
            "shift_id", "method_id", "replicate", name=op.f("uq_batch_shift_id_method_id_replicate")
        ),
    )
    op.create_index(op.f("ix_batch_method_id"), "batch", ["method_id"], unique=False)
    op.create_index(op.f("ix_batch_shift_id"), "batch", ["shift_id"], unique=False)
    op.create_table(
        "draft",
        sa.Column("trial_id", sa.Uuid(), nullable=False),
        sa.Column("method_id", sa.Uuid(), nullable=True),
        sa.Column("texts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["method_id"], ["method.id"], name=op.f("fk_draft_method_id"), ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["trial_id"], ["trial.id"], name=op.f("fk_draft_trial_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("trial_id", name=op.f("pk_draft")),
    )
    op.create_table(
        "key_view",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("tasting_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("viewed_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("why", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_key_view_person_id")),
        sa.ForeignKeyConstraint(
            ["tasting_id"], ["tasting.id"], name=op.f("fk_key_view_tasting_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_key_view")),
    )
    op.create_index(op.f("ix_key_view_tasting_id"), "key_view", ["tasting_id"], unique=False)
    op.create_table(
        "method_amount",
        sa.Column("method_id", sa.Uuid(), nullable=False),
        sa.Column("ingredient_id", sa.Uuid(), nullable=False),
        sa.Column("mass_kg", sa.Double(), nullable=False),
        sa.ForeignKeyConstraint(
            ["ingredient_id"],
            ["ingredient.id"],
            name=op.f("fk_method_amount_ingredient_id"),
            ondelete="CASCADE",
        ),
        sa.ForeignKeyConstraint(
            ["method_id"], ["method.id"], name=op.f("fk_method_amount_method_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("method_id", "ingredient_id", name=op.f("pk_method_amount")),
    )
    op.create_table(
        "plan",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shift_id", sa.Uuid(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("items", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("holds", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("served", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("longest_hold_s", sa.Double(), nullable=False),
        sa.Column("proof", sa.Text(), nullable=False),
        sa.Column("notes", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(
            ["shift_id"], ["shift.id"], name=op.f("fk_plan_shift_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan")),
        sa.UniqueConstraint("shift_id", "number", name=op.f("uq_plan_shift_id_number")),
    )
    op.create_table(
        "rendering",
        sa.Column("publication_id", sa.Uuid(), nullable=False),
        sa.Column("media_type", sa.Text(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["publication_id"],
            ["publication.id"],
            name=op.f("fk_rendering_publication_id"),
            ondelete="CASCADE",
        ),
        sa.PrimaryKeyConstraint("publication_id", "media_type", name=op.f("pk_rendering")),
    )
    op.create_table(
        "seat",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("tasting_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("link_generation", sa.Integer(), nullable=False),
        sa.Column("revoked_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("told_allergens_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("finished_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("order", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_seat_person_id")),
        sa.ForeignKeyConstraint(
            ["tasting_id"], ["tasting.id"], name=op.f("fk_seat_tasting_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_seat")),
    )
    op.create_index(op.f("ix_seat_tasting_id"), "seat", ["tasting_id"], unique=False)
    op.create_table(
        "step",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("method_id", sa.Uuid(), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("attention", sa.Text(), nullable=False),
        sa.Column("phase", sa.Text(), nullable=False),
        sa.Column("duration_s", sa.Double(), nullable=False),
        sa.Column("end_rule", sa.Text(), nullable=False),
        sa.Column("during_offset_s", sa.Double(), nullable=True),
        sa.Column("end_core_c", sa.Double(), nullable=True),
        sa.Column("end_cue", sa.Text(), nullable=False),
        sa.Column("appliance_id", sa.Uuid(), nullable=True),
        sa.Column("set_point_c", sa.Double(), nullable=True),
        sa.Column("power_w", sa.Double(), nullable=True),
        sa.CheckConstraint("attention in ('hands', 'watched', 'free')", name=op.f("ck_step_attention_known")),
        sa.CheckConstraint("end_rule in ('clock', 'core', 'cue')", name=op.f("ck_step_end_rule_known")),
        sa.CheckConstraint(
            "phase in ('prepare', 'come_up', 'load', 'cook', 'turn', 'out', 'wait', 'plate', 'wash_up')",
            name=op.f("ck_step_phase_known"),
        ),
        sa.ForeignKeyConstraint(
            ["appliance_id"], ["appliance.id"], name=op.f("fk_step_appliance_id"), ondelete="SET NULL"
        ),
        sa.ForeignKeyConstraint(
            ["method_id"], ["method.id"], name=op.f("fk_step_method_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_step")),
    )
    op.create_index(op.f("ix_step_method_id"), "step", ["method_id"], unique=False)
    op.create_table(
        "entry",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("shift_id", sa.Uuid(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("batch_id", sa.Uuid(), nullable=True),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("device_id", sa.Uuid(), nullable=False),
        sa.Column("counter", sa.BigInteger(), nullable=False),
        sa.Column("offset_ms", sa.Double(), nullable=False),
        sa.Column("device_time", sa.DateTime(timezone=True), nullable=False),
        sa.Column("server_time", sa.DateTime(timezone=True), nullable=False),
        sa.Column("author_id", sa.Uuid(), nullable=True),
        sa.Column("payload", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("supersedes", sa.Uuid(), nullable=True),
        sa.CheckConstraint(
            "kind in ('started', 'done', 'in', 'turned', 'out', 'temperature', 'weight', 'energy', 'cue', 'photo', 'note', 'extended', 'effort', 'handling_error', 'void', 'undone')",
            name=op.f("ck_entry_kind_known"),
        ),
        sa.ForeignKeyConstraint(["author_id"], ["person.id"], name=op.f("fk_entry_author_id")),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"], name=op.f("fk_entry_batch_id")),
        sa.ForeignKeyConstraint(["shift_id"], ["shift.id"], name=op.f("fk_entry_shift_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_entry")),
        sa.UniqueConstraint("shift_id", "number", name=op.f("uq_entry_shift_id_number")),
    )
    op.create_index(op.f("ix_entry_batch_id"), "entry", ["batch_id"], unique=False)
    op.create_index("ix_entry_shift_id_batch_id", "entry", ["shift_id", "batch_id"], unique=False)
    op.create_table(
        "probe_log",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("starts_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("times_s", sa.ARRAY(sa.Double()), nullable=False),
        sa.Column("channels", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["batch_id"], ["batch.id"], name=op.f("fk_probe_log_batch_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_probe_log")),
    )
    op.create_index(op.f("ix_probe_log_batch_id"), "probe_log", ["batch_id"], unique=False)
    op.create_table(
        "sample",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("tasting_id", sa.Uuid(), nullable=False),
        sa.Column("batch_id", sa.Uuid(), nullable=False),
        sa.Column("code", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"], name=op.f("fk_sample_batch_id")),
        sa.ForeignKeyConstraint(
            ["tasting_id"], ["tasting.id"], name=op.f("fk_sample_tasting_id"), ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sample")),
        sa.UniqueConstraint("tasting_id", "batch_id", name=op.f("uq_sample_tasting_id_batch_id")),
        sa.UniqueConstraint("tasting_id", "code", name=op.f("uq_sample_tasting_id_code")),
    )
    op.create_table(
        "answer",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("seat_id", sa.Uuid(), nullable=False),
        sa.Column("sample_id", sa.Uuid(), nullable=False),
        sa.Column("attribute_id", sa.Uuid(), nullable=True),
        sa.Column("value", sa.Double(), nullable=True),
        sa.Column("refused", sa.Boolean(), nullable=False),
        sa.Column("comment", sa.Text(), nullable=False),
        sa.Column("given_at", sa.DateTime(timezone=True), nullable=False),
        sa.CheckConstraint("value is null or not refused", name=op.f("ck_answer_refusal_has_no_value")),
        sa.ForeignKeyConstraint(["attribute_id"], ["attribute.id"], name=op.f("fk_answer_attribute_id")),
        sa.ForeignKeyConstraint(["sample_id"], ["sample.id"], name=op.f("fk_answer_sample_id")),
        sa.ForeignKeyConstraint(["seat_id"], ["seat.id"], name=op.f("fk_answer_seat_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_answer")),
    )
    op.create_index("ix_answer_seat_id_sample_id", "answer", ["seat_id", "sample_id"], unique=False)
    driver = op.get_bind().connection.driver_connection
    driver.execute(APPEND_ONLY)
    queue = Path(__file__).with_name("0001_procrastinate.sql").read_text("utf-8")
    driver.execute(queue)
