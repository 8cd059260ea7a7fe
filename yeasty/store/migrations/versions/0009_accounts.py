"""A link to set a new password, for one use; what was done by whom, for the lead to read."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
MOMENT = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.add_column("account", sa.Column("reset_hash", sa.Text(), nullable=False, server_default=""))
    op.alter_column("account", "reset_hash", server_default=None)
    op.add_column("account", sa.Column("reset_until", MOMENT, nullable=True))
    op.create_table(
        "audit",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("at", MOMENT, nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=True),
        sa.Column("address", sa.Text(), nullable=False),
        sa.Column("what", sa.Text(), nullable=False),
        sa.Column("about", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_audit_person_id_person")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_audit")),
    )
    op.create_index(op.f("ix_audit_at"), "audit", ["at"])
