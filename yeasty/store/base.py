"""What all tables share: the declarative base, ids, moments in UTC, checked enumerations."""

import uuid
from datetime import UTC, datetime
from enum import StrEnum
from typing import Annotated, Any

from sqlalchemy import CheckConstraint, DateTime, MetaData, Text, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, mapped_column

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s",
    "pk": "pk_%(table_name)s",
}


class Base(DeclarativeBase):
    """Declarative base with named constraints, so that migrations can name them too."""

    metadata = MetaData(naming_convention=NAMING)
    type_annotation_map = {  # noqa: RUF012
        datetime: DateTime(timezone=True),
        str: Text,
        dict[str, Any]: JSONB,
        list[Any]: JSONB,
        list[str]: JSONB,
        uuid.UUID: Uuid(as_uuid=True),
    }


Id = Annotated[uuid.UUID, mapped_column(primary_key=True, default=uuid.uuid4)]


def now() -> datetime:
    """The server's clock, in UTC: the store is told the time or asks here, the core never does."""
    return datetime.now(UTC)


def one_of(column: str, values: type[StrEnum] | tuple[str, ...]) -> CheckConstraint:
    """A check that a text column holds one of the known words."""
    known = ", ".join(f"'{v}'" for v in values)
    return CheckConstraint(f"{column} in ({known})", name=f"{column}_known")
