"""Ways that are added to a trial one after another: versions that cure a defect, ways to look at first."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.marks import next_mark, next_tag
from yeasty.core.ask.screening import Row, own_key
from yeasty.core.ask.techniques import Technique
from yeasty.core.kernel.errors import RuleError
from yeasty.operations.ask.designs import add_method, touch
from yeasty.store.ask.tables import Method, MethodAmount, Step, Trial
from yeasty.store.kitchen.tables import Appliance


def add_ways(
    db: Session,
    trial: Trial,
    rows: Sequence[Row],
    techniques: Mapping[str, Technique],
    appliances: Sequence[Appliance],
    base: str,
) -> None:
    """Add a screening's ways, each from its technique, or from `base` where the row names none. One that no
    library holds begins with the steps of `base`, and as one whose hazards nobody has said yet: that is asked
    before anybody eats.
    """
    for row in rows:
        key = row.technique or base
        if key not in techniques:
            raise RuleError(
                row.name, "has no technique", "Name one on its line, or choose one for all lines without."
            )
        technique = techniques[key]
        if row.called:
            technique = replace(technique, key=own_key(row.called), name=row.called, gear=())
        m = add_method(db, trial, technique, row.name, appliances)
        if row.called:
            m.vessel = row.called
        m.change = row.note


def add_version(
    db: Session, trial: Trial, of: Method, *, name: str, change: str, aimed_defect: str
) -> Method:
    """A next version: everything copied from the one before, with the change to be made and the defect it
    aims at.
    """
    if len(change.strip()) < 3:
        raise RuleError("change", "is empty", "Say what is changed, in a few words.")
    m = twin(of, trial, name.strip() or f"{of.name}, {change.strip()}"[:100])
    m.parent_method_id, m.parent_words, m.change, m.aimed_defect = (
        of.id,
        "",
        change.strip(),
        aimed_defect.strip(),
    )
    m.amounts = [MethodAmount(ingredient_id=a.ingredient_id, mass_kg=a.mass_kg) for a in of.amounts]
    trial.methods.append(m)
    touch(trial)
    db.flush()
    return m


_OWN_TO_A_METHOD = {
    "id",
    "trial_id",
    "position",
    "name",
    "mark",
    "tag",
    "levels",
    "parent_method_id",
    "parent_words",
    "change",
    "aimed_defect",
    "outcome",
    "failed_tries",
    "verdict_word",
    "verdict_note",
    "purpose",
}


def twin(of: Method, trial: Trial, name: str, *, with_steps: bool = True) -> Method:
    """A method like another, with a mark and tag of its own and copies of its steps; amounts are left to the
    caller.
    """
    m = Method(
        trial_id=trial.id,
        position=len(trial.methods),
        name=name,
        mark=next_mark([x.mark for x in trial.methods]),
        tag=next_tag(name, [x.tag for x in trial.methods]),
        levels=[],
        **{
            c.key: _fresh(getattr(of, c.key))
            for c in Method.__mapper__.column_attrs
            if c.key not in _OWN_TO_A_METHOD
        },
    )
    if with_steps:
        m.steps = [Step(**step_values(s)) for s in of.steps]
    return m


def step_values(step: Step) -> dict[str, Any]:
    """A step's columns but for its identity and whose it is."""
    return {
        c.key: getattr(step, c.key) for c in Step.__mapper__.column_attrs if c.key not in ("id", "method_id")
    }


def _fresh(value: Any) -> Any:
    return list(value) if isinstance(value, list) else value
