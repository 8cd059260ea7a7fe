"""A report of a whole trial, put together from its records and from what Decide said last."""

from collections.abc import Mapping, Sequence
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from yeasty.core.ask.kinds import KINDS
from yeasty.core.ask.trial import TrialKind
from yeasty.core.decide.outcome import Outcome, Sentence
from yeasty.core.kernel.quantities_said import say_duration, say_mass
from yeasty.core.publish.kinds import sure_in_words
from yeasty.core.publish.report import Part, Report, Table
from yeasty.operations.cook.shifts import trial_measures
from yeasty.operations.decide.decisions import outcome_of
from yeasty.operations.publish.evidence import not_equal
from yeasty.operations.taste.findings import found_of
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.queries import shifts_of
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.taste.queries import tastings_of


def report_of(db: Session, trial: Trial) -> Report:
    """What was asked, laid out, cooked, tasted and found."""
    outcome = outcome_of(db, trial.id)
    zone = ZoneInfo(the_kitchen(db).time_zone)
    said = outcome.answer if outcome else None
    return Report(
        trial.title,
        trial.question,
        said.headline if said else "Nothing is decided yet",
        sure_in_words(said, outcome.tasters) if said and outcome else "",
        f"{now().astimezone(zone):%d %B %Y, %H:%M}",
        [
            Part("What was asked", _asked(trial)),
            Part(
                "What was found",
                [(s.text, f"{s.standing}: {s.stands_on}") for s in said.sentences] if said else [],
            ),
            *(_decided(trial, outcome) if outcome else []),
            Part("What was cooked", (), _cooked(db, trial, zone)),
            Part("What was tasted", _tasted(db, trial)),
            Part("What was not equal", [(line, "") for line in not_equal(db, trial)]),
            Part("What is missing", [(g, "") for g in outcome.gaps] if outcome else []),
        ],
    )


def _found(sentences: Sequence[Sentence]) -> list[tuple[str, str]]:
    return [(s.text, f"{s.standing}: {s.stands_on}") for s in sentences]


def _asked(trial: Trial) -> list[tuple[str, str]]:
    kind = KINDS[TrialKind(trial.kind)]
    lines = [(f"{kind.name}: {trial.dish}.", "")]
    if trial.answer_rule:
        lines.append((f"What counts as an answer: {trial.answer_rule}", "written at Ask"))
    if trial.matters:
        lines.append((f"The smallest difference that matters: {trial.matters:g} points.", "written at Ask"))
    if trial.attributes:
        weighed = ", ".join(f"{a.name} ({a.weight:g})" for a in trial.attributes)
        lines.append((f"Judged on, with weights: {weighed}.", ""))
    return lines


def _decided(trial: Trial, outcome: Outcome) -> list[Part]:
    names = [(str(m.id), m.name) for m in trial.methods]
    asked = [
        (a.name, {**_means(outcome.means.get(a.key, {})), **outcome.counted.get(a.key, {})})
        for a in outcome.attributes
    ]
    measured = [(m.name, dict(m.words)) for m in outcome.measures]
    head = ("", *(name for _, name in names))
    return [
        Part("What people said, as means on each scale", (), _rows(head, names, asked)),
        Part("What was measured, at equal servings", (), _rows(head, names, measured)),
        Part("What is claimed", _claims(outcome)),
        Part("What each is for, as the kitchen's opinion", _purposes(trial)),
        Part("What would tell more", [(line, "") for line in outcome.what_next]),
        Part("Other rounds", [(f"{b.name}: {b.headline}.", "a round of its own") for b in outcome.beside]),
        Part("How blind it was", [(line, "") for line in outcome.blindness]),
        Part("Limits set beforehand", [(line, "") for line in outcome.limits]),
    ]


def _claims(outcome: Outcome) -> list[tuple[str, str]]:
    """Claims that stand with their records; those that fell with the reason."""
    return [
        (c.said.text, f"{c.said.standing}, {c.said.how_sure}: {'; '.join(c.records)}")
        if c.said.stands
        else (f"No longer stands, about {c.said.about}.", c.said.why_not)
        for c in outcome.claims
    ]


def _purposes(trial: Trial) -> list[tuple[str, str]]:
    return [(f"{m.name}: {m.purpose}", "") for m in trial.methods if m.purpose]


def _means(by: Mapping[str, float]) -> dict[str, str]:
    return {m: f"{v:.1f}" for m, v in by.items()}


def _rows(
    head: Sequence[str], names: Sequence[tuple[str, str]], told: Sequence[tuple[str, dict[str, str]]]
) -> Table:
    """A row a thing told, a column a method; the other way round where there are more methods than fit."""
    if len(names) <= MOST_ACROSS:
        return Table(head, [(what, *(by.get(key, "—") for key, _ in names)) for what, by in told])
    return Table(
        ("", *(what for what, _ in told)),
        [(name, *(by.get(key, "—") for _, by in told)) for key, name in names],
    )


# More columns than that do not fit a sheet.
MOST_ACROSS = 6


def _cooked(db: Session, trial: Trial, zone: ZoneInfo) -> Table:
    served = {s.id: s.serve_from.astimezone(zone) for s in shifts_of(db, trial.id)}
    rows = []
    for b, m in trial_measures(db, trial.id):
        core = "" if m.highest_core_c is None else f"{m.highest_core_c:.0f} °C"
        if m.core_target_c is not None:
            core = f"{core or 'not read'} of {m.core_target_c:g} °C"
        state = m.standing.value + (f": {m.why}" if m.why else "") + ("" if m.complete else ", not finished")
        rows.append(
            (
                f"{b.method.name}, batch {b.replicate}",
                f"{served[b.shift_id]:%d %b %H:%M}",
                state,
                say_duration(max(60, round(m.clocks.total_s / 60) * 60)) if m.clocks.total_s else "—",
                core or "—",
                ", ".join(f"{what} {say_mass(kg)}" for what, kg in m.weights) or "—",
            )
        )
    return Table(("Batch", "Served", "Stands as", "Start to clean", "Core", "Weights"), rows)


def _tasted(db: Session, trial: Trial) -> list[tuple[str, str]]:
    found, _ = found_of(db, trial.id)
    lines = []
    for t in tastings_of(db, trial.id):
        told = found.tastings.get(str(t.id))
        name = t.name or "A tasting"
        if t.stopped_at is not None:
            lines.append((f"{name}: stopped. {t.stopped_why}", "nothing of it is judged"))
        elif told is None:
            state = "opened, not worked out yet" if t.opened_at else "codes are closed"
            lines.append((f"{name}: {state}.", ""))
        else:
            who = f"{told.people} {'person' if told.people == 1 else 'people'}, {told.knowing} of whom knew"
            lines += [(f"{name}: {r.headline}", who) for r in told.rounds.values()]
            lines += [(line, "at the table") for line in told.table]
    return lines
