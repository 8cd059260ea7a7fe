"""A defect of the library has a picture."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"


def upgrade() -> None:
    op.add_column(
        "defect",
        sa.Column("photo_id", sa.Uuid(), sa.ForeignKey("photo.id", ondelete="SET NULL"), nullable=True),
    )
    op.create_index(op.f("ix_defect_photo_id"), "defect", ["photo_id"])
    for name, kind, usual in (
        ("photo_alt", sa.Text(), ""),
        ("photo_x", sa.Float(), "0.5"),
        ("photo_y", sa.Float(), "0.5"),
        ("photo_zoom", sa.Float(), "1"),
    ):
        op.add_column("defect", sa.Column(name, kind, nullable=False, server_default=usual))
        op.alter_column("defect", name, server_default=None)
