"""What the demo's tasters are asked."""

from sqlalchemy.orm import Session

from yeasty.core.kernel.scales import Scale
from yeasty.operations.ask import designs
from yeasty.store.ask.tables import Trial


def asks(
    name: str,
    weight: float,
    low: str = "",
    high: str = "",
    *,
    scale: Scale = Scale.INTENSITY,
    high_is_better: bool = True,
) -> dict[str, object]:
    """One question: its weight and what the ends of its scale mean."""
    return {
        "id": None,
        "name": name,
        "scale": scale.value,
        "weight": weight,
        "low_words": low,
        "high_words": high,
        "high_is_better": high_is_better,
    }


def ask(db: Session, trial: Trial, *questions: dict[str, object]) -> None:
    """Have a trial's tasters asked this."""
    designs.set_attributes(db, trial, list(questions))
