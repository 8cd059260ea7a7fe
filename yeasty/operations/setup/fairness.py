"""What differs in a trial's design besides what is meant to, and what of it nobody has settled."""

from sqlalchemy.orm import Session

from yeasty.core.ask.grid import cells_of, grid_from_record, interactions_tell
from yeasty.core.ask.kinds import KINDS
from yeasty.core.ask.trial import DoneRule, TrialKind
from yeasty.core.kernel.quantities import System
from yeasty.core.setup.claimed import links, the_change
from yeasty.core.setup.differences import Difference, MethodFacts, differences
from yeasty.operations.ask import facts
from yeasty.store.ask.queries import appliances_of
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen import library
from yeasty.store.setup import queries as pieces


def facts_of(db: Session, trial: Trial) -> list[MethodFacts]:
    """What is known of each method, with the pieces that were dealt to it."""
    used, dealt = appliances_of(db, trial), pieces.dealt_means(db, trial.id)
    return facts.method_facts(trial, used, library.known_techniques(db), dealt)


def came_from(trial: Trial) -> dict[str, str]:
    """Tag to the tag it came from, within a trial whose methods come from one another; a second method from
    the first.
    """
    if not KINDS[TrialKind(trial.kind)].single:
        return {}
    tags = {m.id: m.tag for m in trial.methods}
    found = {
        m.tag: tags[m.parent_method_id]
        for m in trial.methods
        if m.parent_method_id in tags and m.parent_method_id
    }
    if not found and trial.kind == TrialKind.ONE_CHANGE and len(trial.methods) == 2:
        found = {trial.methods[1].tag: trial.methods[0].tag}
    return found


def meant(db: Session, trial: Trial) -> list[str]:
    """Fields that are to differ: those said, and the one thing that each version changes."""
    steps = links(facts_of(db, trial), came_from(trial), DoneRule(trial.done_rule))
    return [*trial.varied, *the_change(steps)]


def design_differences(
    db: Session, trial: Trial, system: System
) -> tuple[list[Difference], dict[str, list[str]]]:
    """What differs in a trial's design, in the person's units, and for versions what each changes."""
    known, rule = facts_of(db, trial), DoneRule(trial.done_rule)
    steps = links(known, came_from(trial), rule)
    return differences(known, [*trial.varied, *the_change(steps)], system, rule), steps


def open_differences(db: Session, trial: Trial, system: System = System.METRIC) -> list[Difference]:
    """Differences that are neither meant nor accepted nor a result."""
    accepted = {(a.field, a.signature) for a in trial.accepted}
    return [
        d
        for d in design_differences(db, trial, system)[0]
        if not d.varied and not d.result and (d.field, d.signature) not in accepted
    ]


def cells_tell(trial: Trial) -> bool:
    """Whether the cells laid out show how the factors act together."""
    if trial.kind != TrialKind.GRID or not trial.layout.get("factors"):
        return True
    grid = grid_from_record(trial.layout)
    return interactions_tell(grid, cells_of(grid, [m.levels for m in trial.methods]))
