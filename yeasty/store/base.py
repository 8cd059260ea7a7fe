"""What all tables share: the declarative base, ids, moments in UTC, checked enumerations."""

import uuid
from datetime import UTC, datetime
from enum import Enum, StrEnum
from functools import cache
from typing import Annotated, Any, TypeVar

from pydantic import TypeAdapter
from sqlalchemy import CheckConstraint, DateTime, MetaData, Text, TypeDecorator, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, mapped_column

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s",
    "pk": "pk_%(table_name)s",
}


# What the streams of web processes listen to: the id of a shift or a trial that has changed, or `ACCOUNTS`.
CHANNEL, ACCOUNTS = "yeasty_shift", "accounts"


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


class Shaped(TypeDecorator[Any]):
    """A JSON column that is read back as what was written: a dataclass of the core, or a union of some.

    `shape` : what it holds. Null in the database is None.
    """

    impl = JSONB(none_as_null=True)
    cache_ok = True

    def __init__(self, shape: Any) -> None:
        super().__init__()
        self.shape = shape

    @property
    def adapter(self) -> TypeAdapter[Any]:
        """What turns the shape into JSON and back."""
        return _adapter(self.shape)

    def process_bind_param(self, value: Any, dialect: Any) -> Any:
        """Into the database."""
        return None if value is None else self.adapter.dump_python(value, mode="json")

    def process_result_value(self, value: Any, dialect: Any) -> Any:
        """Out of it.

        Raises
        ------
        ValueError : what is there is no such shape
        """
        return None if value is None else self.adapter.validate_python(value)


@cache
def _adapter(shape: Any) -> TypeAdapter[Any]:
    return TypeAdapter(shape)


R = TypeVar("R", bound=Base)
Id = Annotated[uuid.UUID, mapped_column(primary_key=True, default=uuid.uuid4)]


def row_of(table: type[R], of: Any, **given: Any) -> R:
    """A new row: what is given, and every other column from the attribute of its name, where there is one. It
    has an id of its own.
    """
    return table(**{**_columns(table, of), **given})


def take_over(row: "Base", of: Any, **given: Any) -> None:
    """A row that is there already: as `row_of`, it keeps its id."""
    for name, value in {**_columns(type(row), of), **given}.items():
        setattr(row, name, value)


def _columns(table: type["Base"], of: Any) -> dict[str, Any]:
    names = (c.key for c in table.__mapper__.column_attrs)
    return {n: _plain(getattr(of, n)) for n in names if n != "id" and hasattr(of, n)}


def _plain(value: Any) -> Any:
    """As a column holds it."""
    if isinstance(value, Enum):
        return value.value
    return list(value) if isinstance(value, tuple) else value


def now() -> datetime:
    """The server's clock, in UTC: the store is told the time or asks here, the core never does."""
    return datetime.now(UTC)


def one_of(column: str, values: type[StrEnum] | tuple[str, ...]) -> CheckConstraint:
    """A check that a text column holds one of the known words."""
    known = ", ".join(f"'{v}'" for v in values)
    return CheckConstraint(f"{column} in ({known})", name=f"{column}_known")
