"""A trial may be deleted for good: by a transaction that says so, and it stays known that it was."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0010"
down_revision = "0009"

ALLOWED = "tg_op = 'DELETE' and current_setting('yeasty.deletes', true) = 'for good'"
FUNCTIONS = f"""
create or replace function refuse_change() returns trigger language plpgsql as $$
begin
  if {ALLOWED} then
    return old;
  end if;
  raise exception '% is append-only: write a new row that corrects the old one', tg_table_name using errcode = 'restrict_violation';
end $$;

create or replace function only_withdrawal() returns trigger language plpgsql as $$
begin
  if {ALLOWED} then
    return old;
  end if;
  if tg_op = 'DELETE' or old.withdrawn_at is not null
     or (to_jsonb(new) - 'withdrawn_at' - 'withdrawn_why') <> (to_jsonb(old) - 'withdrawn_at' - 'withdrawn_why') then
    raise exception 'a publication is frozen: publish a correction, or withdraw it' using errcode = 'restrict_violation';
  end if;
  return new;
end $$;
"""


def upgrade() -> None:
    op.create_table(
        "deletion",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("by", sa.Uuid(), nullable=True),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("slugs", postgresql.JSONB(), nullable=False),
        sa.ForeignKeyConstraint(["by"], ["person.id"], name=op.f("fk_deletion_by_person")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_deletion")),
    )
    op.execute(FUNCTIONS)
