"""Which scales there are is said by the core alone."""

from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    op.drop_constraint(op.f("ck_attribute_scale_known"), "attribute", type_="check")
