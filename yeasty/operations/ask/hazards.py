"""What may hurt somebody at a method, by what it is and is made of; struck or meant by the lead."""

from yeasty.core.ask.preparation import preparation
from yeasty.core.kernel.errors import RuleError
from yeasty.core.safety.cautions import hazards_of
from yeasty.operations.ask.designs import touch
from yeasty.store.ask.tables import Method, Trial


def hazards_of_method(trial: Trial, method: Method) -> tuple[str, ...]:
    """Hazards of technique, food, ingredients and gear together."""
    names = {i.id: i.name for i in trial.ingredients}
    words = [*(names.get(a.ingredient_id, "") for a in method.amounts), *method.gear]
    brought = [*method.hazards, *preparation(trial.preparation).hazards]
    return hazards_of(brought, trial.food_class, words, method.struck_hazards or {})


def every_hazard(trial: Trial, method: Method) -> tuple[str, ...]:
    """All hazards of a method, those struck out among them."""
    names = {i.id: i.name for i in trial.ingredients}
    words = [*(names.get(a.ingredient_id, "") for a in method.amounts), *method.gear]
    return hazards_of([*method.hazards, *preparation(trial.preparation).hazards], trial.food_class, words)


def strike_hazard(trial: Trial, method: Method, hazard: str, why: str) -> None:
    """Say that a hazard does not hold for a method, and why; with no reason it holds again.

    Raises
    ------
    RuleError : a hazard the method does not have, or a reason that says too little
    """
    if hazard not in every_hazard(trial, method):
        raise RuleError("hazard", f"{hazard} is not one of this method's", "Reload and choose again.")
    kept = {k: v for k, v in (method.struck_hazards or {}).items() if k != hazard}
    if why.strip():
        if len(why.strip()) < 10:
            raise RuleError("why", "says too little", "Say in a sentence why it does not hold here.")
        kept[hazard] = why.strip()
    method.struck_hazards = kept
    touch(trial)


def set_meant(trial: Trial, method: Method, rule: str, not_for: str, by: str) -> None:
    """Write down that a method's food is meant pink, soft or raw: by which rule, and who must not eat it.

    Raises
    ------
    RuleError : a rule or a warning that says too little
    """
    if not rule.strip() and not not_for.strip():
        method.meant = {}
    else:
        if len(rule.strip()) < 20:
            raise RuleError(
                "rule", "says too little", "Write the kitchen's rule: how, how far, by which source."
            )
        if len(not_for.strip()) < 10:
            raise RuleError(
                "not for",
                "says too little",
                "Name who must not eat it: children, the old, the pregnant, the ill …",
            )
        method.meant = {
            "rule": rule.strip().rstrip(".") + ".",
            "not_for": not_for.strip().rstrip("."),
            "by": by,
        }
    touch(trial)
