"""How long food may stand, room for what may cook longer."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    op.add_column(
        "kitchen",
        sa.Column("waits", postgresql.JSONB(), nullable=False, server_default=sa.text("'{}'::jsonb")),
    )
    op.alter_column("kitchen", "waits", server_default=None)
    op.add_column("shift", sa.Column("leave_room", sa.Boolean(), nullable=False, server_default=sa.true()))
    op.alter_column("shift", "leave_room", server_default=None)
