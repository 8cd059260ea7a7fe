"""Cups have letters underneath; somebody alone can be blind; a tasting is laid before it is served; half a key.

What a cup holds that nobody knows yet is set once, when the cups are turned over.
"""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"

SET_ONCE = """
create function only_turned_over() returns trigger language plpgsql as $$
begin
  if tg_op = 'DELETE' then
    if current_setting('yeasty.deletes', true) = 'for good' then return old; end if;
  elsif old.batch_id is null and old.place is not null and new.batch_id is not null
     and (to_jsonb(new) - 'batch_id') = (to_jsonb(old) - 'batch_id') then
    return new;
  end if;
  raise exception '% is append-only: write a new row that corrects the old one', tg_table_name using errcode = 'restrict_violation';
end $$;
drop trigger sample_fixed on sample;
create trigger sample_fixed before update or delete on sample for each row execute function only_turned_over();
create trigger cup_fixed before update or delete on cup for each row execute function refuse_change();
"""


def upgrade() -> None:
    for table, name, kind, default in (
        ("tasting", "protocol", sa.Text(), "plated"),
        ("key_view", "half", sa.Text(), ""),
    ):
        op.add_column(table, sa.Column(name, kind, nullable=False, server_default=default))
        op.alter_column(table, name, server_default=None)
    op.create_check_constraint(
        op.f("ck_tasting_protocol_known"), "tasting", "protocol in ('plated', 'alone', 'helper')"
    )
    op.create_check_constraint(op.f("ck_key_view_half_known"), "key_view", "half in ('', 'letters', 'codes')")
    op.add_column("tasting", sa.Column("served_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("tasting", sa.Column("read_off_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("tasting", sa.Column("read_off_by", sa.Uuid(), nullable=True))
    op.create_foreign_key(op.f("fk_tasting_read_off_by"), "tasting", "person", ["read_off_by"], ["id"])
    # What was laid until now was served when it was laid.
    op.execute("update tasting set served_at = created_at")
    op.add_column("sample", sa.Column("place", sa.Integer(), nullable=True))
    op.drop_constraint(op.f("ck_sample_batch_or_outside"), "sample", type_="check")
    op.create_check_constraint(
        op.f("ck_sample_batch_or_outside"),
        "sample",
        "(batch_id is null) = (outside <> '') or (batch_id is null and place is not null)",
    )
    op.create_table(
        "cup",
        sa.Column("tasting_id", sa.Uuid(), nullable=False),
        sa.Column("batch_id", sa.Uuid(), nullable=False),
        sa.Column("letter", sa.Text(), nullable=False),
        sa.Column("shows", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["tasting_id"], ["tasting.id"], name=op.f("fk_cup_tasting_id"), ondelete="CASCADE"
        ),
        sa.ForeignKeyConstraint(["batch_id"], ["batch.id"], name=op.f("fk_cup_batch_id")),
        sa.PrimaryKeyConstraint("tasting_id", "batch_id", name=op.f("pk_cup")),
        sa.UniqueConstraint("tasting_id", "letter", name=op.f("uq_cup_tasting_id_letter")),
    )
    op.execute(SET_ONCE)
