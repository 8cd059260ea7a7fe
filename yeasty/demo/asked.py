"""What the demo's tasters are asked."""

from sqlalchemy.orm import Session

from yeasty.core.kernel.scales import Scale
from yeasty.operations.ask.designs import Asked, set_attributes
from yeasty.store.ask.tables import Trial


def asks(
    name: str,
    weight: float,
    low: str = "",
    high: str = "",
    *,
    scale: Scale = Scale.INTENSITY,
    high_is_better: bool = True,
) -> Asked:
    """One question: its weight and what the ends of its scale mean."""
    return Asked(name, scale, weight, low, high, high_is_better)


def ask(db: Session, trial: Trial, *questions: Asked) -> None:
    """Have a trial's tasters asked this."""
    set_attributes(db, trial, questions)
