"""What is cooked together has one word, in batches and methods; a piece says whether its weight is made up."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.add_column("method", sa.Column("together", sa.Text(), nullable=False, server_default=""))
    op.alter_column("method", "together", server_default=None)
    op.add_column("piece", sa.Column("simulated", sa.Boolean(), nullable=False, server_default="false"))
    op.alter_column("piece", "simulated", server_default=None)
    op.execute(
        "UPDATE batch SET facts = facts - 'pot' || jsonb_build_object('together', facts->'pot') WHERE facts ? 'pot'"
    )
