"""A row as JSON that any table can be written from and read back into."""

import uuid
from datetime import UTC, date, datetime
from decimal import Decimal
from functools import cache
from typing import Any

from sqlalchemy import ARRAY, BigInteger, Column, Table
from sqlalchemy.dialects.postgresql import JSONB

from yeasty.store.base import Base, Shaped

# Moments that every reader can hold.
EARLIEST, LATEST = datetime(1990, 1, 1, tzinfo=UTC), datetime(2100, 1, 1, tzinfo=UTC)


def written(column: Column[Any], value: Any) -> Any:
    """A column's value as JSON holds it."""
    if isinstance(column.type, Shaped):
        return column.type.process_bind_param(value, None)
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat()
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, Decimal):
        return str(value)
    return value


def read_back(column: Column[Any], value: Any) -> Any:
    """A value of JSON as its column holds it.

    Raises
    ------
    ValueError : no moment of a kitchen, no amount of money, too large a number, or of another shape
    """
    if isinstance(column.type, Shaped):
        return column.type.process_result_value(value, None)
    if value is None or isinstance(column.type, JSONB | ARRAY):
        return value
    kind = column.type.python_type
    if kind is uuid.UUID:
        return uuid.UUID(value)
    if kind is datetime:
        moment = datetime.fromisoformat(value)
        if moment.tzinfo is None or not EARLIEST <= moment <= LATEST:
            raise ValueError("no moment of a kitchen")
        return moment
    if kind is Decimal:
        number = Decimal(value)
        if not number.is_finite() or abs(number) >= Decimal(10) ** 8:
            raise ValueError("no amount of money")
        return number
    if (
        kind is int
        and not isinstance(value, bool)
        and abs(value) >= (2**53 if isinstance(column.type, BigInteger) else 2**31)
    ):
        raise ValueError("too large a number")
    return value


# What JSON holds as it is.
PLAIN = frozenset({str, int, float, bool, type(None)})


@cache
def _columns(model: type[Base]) -> tuple[tuple[str, str, Column[Any], bool], ...]:
    """Of each column its name, what a row calls it, itself, and whether its values have a shape."""
    of = model.__mapper__.get_property_by_column
    table: Table = model.__table__  # type: ignore[assignment]
    return tuple((c.name, of(c).key, c, isinstance(c.type, Shaped)) for c in table.columns)


def record_of(row: Base) -> dict[str, Any]:
    """A whole row as JSON holds it."""
    found = {}
    for name, key, column, shaped in _columns(type(row)):
        value = getattr(row, key)
        found[name] = value if not shaped and type(value) in PLAIN else written(column, value)
    return found


def held(row: Base, column: Column[Any]) -> Any:
    """What a row holds in a column."""
    return getattr(row, row.__mapper__.get_property_by_column(column).key)
