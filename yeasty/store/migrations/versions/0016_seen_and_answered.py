"""Photos of a page are chosen; defects are kept; readers say that they cooked it."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0016"
down_revision = "0015"


def upgrade() -> None:
    op.add_column("draft", sa.Column("pictures", JSONB(), nullable=False, server_default="[]"))
    op.alter_column("draft", "pictures", server_default=None)
    op.create_table(
        "defect",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("looks", sa.Text(), nullable=False),
        sa.Column("causes", sa.Text(), nullable=False),
        sa.Column("cure", sa.Text(), nullable=False),
        sa.Column("normal", sa.Boolean(), nullable=False),
        sa.Column("techniques", JSONB(), nullable=False),
        sa.Column("stands_on", sa.Text(), nullable=False),
        sa.Column("trial_id", sa.Uuid(), sa.ForeignKey("trial.id", ondelete="SET NULL"), nullable=True),
        sa.Column("taken_up", sa.Boolean(), nullable=False),
        sa.Column("shipped", sa.Text(), nullable=False),
        sa.Column("changed_at", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_index(op.f("ix_defect_trial_id"), "defect", ["trial_id"])
    op.create_table(
        "reader_try",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column(
            "publication_id", sa.Uuid(), sa.ForeignKey("publication.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("tag", sa.Text(), nullable=False),
        sa.Column("method", sa.Text(), nullable=False),
        sa.Column("kitchen", sa.Text(), nullable=False),
        sa.Column("took_s", sa.Float(), nullable=True),
        sa.Column("came", sa.Text(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("given_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("counted", sa.Boolean(), nullable=True),
        sa.Column("note_shown", sa.Boolean(), nullable=False),
        sa.Column("looked_by", sa.Uuid(), sa.ForeignKey("person.id"), nullable=True),
        sa.CheckConstraint("came in ('well', 'fairly', 'badly')", name=op.f("ck_reader_try_came_known")),
    )
    op.create_index(op.f("ix_reader_try_publication_id"), "reader_try", ["publication_id"])
