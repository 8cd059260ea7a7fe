"""How a trial is decided is said beforehand: school, limits, ties, a claim."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0014"
down_revision = "0013"

# As it stood in the code at this revision.
USUAL = {
    "school": "weighted_score",
    "ties": ["hands_s", "wash_up_s", "total_s", "energy_j", "cost"],
    "limits": [],
    "claim": "",
    "effort": "total_s",
    "said_at": None,
}


def upgrade() -> None:
    op.add_column("trial", sa.Column("deciding", JSONB(), nullable=False, server_default=json.dumps(USUAL)))
    op.alter_column("trial", "deciding", server_default=None)
