"""How long food may stand; what belongs to a shift: room for what cooks longer, weather, who cooked, written up afterwards."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0007"
down_revision = "0006"


def _add(table: str, name: str, kind: sa.types.TypeEngine, default: str) -> None:
    op.add_column(table, sa.Column(name, kind, nullable=False, server_default=sa.text(default)))
    op.alter_column(table, name, server_default=None)


def upgrade() -> None:
    _add("kitchen", "waits", postgresql.JSONB(), "'{}'::jsonb")
    _add("shift", "leave_room", sa.Boolean(), "true")
    _add("shift", "written_up", sa.Boolean(), "false")
    _add("shift", "weather", sa.Text(), "''")
    _add("shift", "cooks", sa.Text(), "''")
    op.add_column("shift", sa.Column("room_c", sa.Double(), nullable=True))
    op.execute(
        "UPDATE shift SET room_c = trial.room_c, weather = trial.weather FROM trial WHERE trial.id = shift.trial_id"
    )
    op.drop_column("trial", "room_c")
    op.drop_column("trial", "weather")
    _add("trial", "preparation", postgresql.JSONB(), "'{}'::jsonb")
    op.add_column("trial", sa.Column("put_away_at", sa.DateTime(timezone=True), nullable=True))
