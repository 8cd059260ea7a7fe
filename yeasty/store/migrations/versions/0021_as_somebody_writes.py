"""Days, times and words of the kitchen as each person writes and says them."""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
KNOWN = {
    "dates": ("day_first", "month_first", "iso"),
    "clock": ("24", "12"),
    "words": ("", "british", "american"),
}


def upgrade() -> None:
    for column, known in KNOWN.items():
        op.add_column("account", sa.Column(column, sa.Text(), nullable=False, server_default=known[0]))
        op.alter_column("account", column, server_default=None)
        words = ", ".join(f"'{v}'" for v in known)
        op.create_check_constraint(op.f(f"ck_account_{column}_known"), "account", f"{column} in ({words})")
