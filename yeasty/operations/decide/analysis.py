"""The whole of Decide for a trial, worked out from its records."""

import uuid
from collections.abc import Callable, Container, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from statistics import fmean

from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute, attribute_from_record, what_changed
from yeasty.core.cook.measures import BatchMeasures, Standing, core_words, gaps
from yeasty.core.decide.also import also_measured
from yeasty.core.decide.another import by_measures, by_questions
from yeasty.core.decide.claims import claimable
from yeasty.core.decide.compared import OnRecord
from yeasty.core.decide.measured import Measured, OneBatch, measured
from yeasty.core.decide.nested import Earlier, Fit
from yeasty.core.decide.outcome import (
    BatchOutcome,
    ClocksTold,
    Dot,
    HowSure,
    MethodOutcome,
    OtherChoice,
    Outcome,
    PhotoTold,
    Reread,
    RescueSample,
    ScopeTold,
    ServingsTold,
    TasterWords,
    Verdict,
)
from yeasty.core.decide.questions.kind import Basis
from yeasty.core.decide.rules import broken, limit_words
from yeasty.core.decide.schools import SCHOOLS
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer, attribute_means
from yeasty.core.decide.servings import ForServings
from yeasty.core.decide.tallies import counts_of
from yeasty.core.decide.verdict import judge, per_attribute
from yeasty.core.decide.what_next import what_next
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.filled import filled
from yeasty.core.kernel.scales import SCALES
from yeasty.core.safety.core_minimum import CoreStanding
from yeasty.core.setup.sittings import what_shifts_tell
from yeasty.operations.cook.shifts import cookings, trial_measures
from yeasty.operations.decide.asked import answer_of, asked_of
from yeasty.operations.decide.claiming import (
    claims_told,
    contradictions,
    curves_of,
    ground_of,
    judged_by,
    logs_of,
    looks_of,
)
from yeasty.operations.decide.decisions import VERDICT, as_kept, keep
from yeasty.operations.decide.earlier import earlier_spread
from yeasty.operations.decide.loads import beside_loads, from_one_load, loads_of, methods_tasted
from yeasty.operations.decide.measuring import curves_by_measure, measures_told, one_by_one, scales_of
from yeasty.operations.decide.tested import tests_told
from yeasty.operations.safety.batches import BatchSafety, safety_of_trial
from yeasty.operations.setup.sittings import in_shifts
from yeasty.operations.taste.findings import Findings
from yeasty.operations.taste.gathered import Scope, opened_comments, scopes_of
from yeasty.operations.taste.working_out import find
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import Trial
from yeasty.store.base import now
from yeasty.store.cook.queries import shifts_of
from yeasty.store.cook.tables import Batch, Shift
from yeasty.store.taste.queries import opened_tastings
from yeasty.store.taste.tables import Tasting


def analyse(db: Session, trial_id: uuid.UUID) -> None:
    """Work out and keep what tastings tell, and the verdict."""
    if db.get(Trial, trial_id) is None:
        return
    found = find(db, trial_id)
    keep(db, trial_id, VERDICT, lambda: as_kept(_of_trial(db, trial_id, found)))


def _of_trial(db: Session, trial_id: uuid.UUID, found: Findings) -> Outcome:
    """Read anew, so that the tables it stands on are seen to be read."""
    trial = whole_trial(db, trial_id)
    if trial is None:
        raise LookupError(f"trial {trial_id} is gone")
    return work_out(db, trial, found)


def _arms(
    trial: Trial,
    measured: Sequence[tuple[Batch, BatchMeasures]],
    standing: Mapping[uuid.UUID, BatchSafety],
    by_log: Measured,
    name: Callable[[Batch], str],
) -> list[Arm]:
    arms = []
    for method in trial.methods:
        mine = [(b, m) for b, m in measured if b.method_id == method.id]
        over = broken(trial.deciding.limits, str(method.id), by_log) if mine else []
        aside = [
            f"{method.name}, {name(b)}: {m.standing.value}, {m.why}"
            for b, m in mine
            if m.standing is not Standing.JUDGED
        ]
        failed = [
            f"{method.name}, {name(b)}: core {m.core_target_c:g} °C, {core_words(m)}"
            for b, m in mine
            if m.core_met is False and m.complete and m.standing is Standing.JUDGED
        ]
        failed += [
            f"{method.name}, {name(b)}: {s.core.sentence}"
            for b, m in mine
            if (s := standing[b.id]).core
            and s.core.standing in (CoreStanding.UNKNOWN, CoreStanding.BELOW)
            and not b.method.meant
            and m.complete
            and m.standing is Standing.JUDGED
        ]
        arms.append(
            Arm(
                str(method.id),
                method.tag,
                method.name,
                sum(1 for b, m in mine if m.complete and m.standing is Standing.JUDGED),
                tuple(aside),
                tuple(failed),
                tuple(over),
            )
        )
    return arms


@dataclass(frozen=True)
class _Judging:
    """What every judging of a trial shares."""

    trial: Trial
    arms: Sequence[Arm]
    scope: Scope
    leaked: bool
    earlier: Earlier | None

    def answers(self, counted: Container[str]) -> list[Answer]:
        """Of batches that count."""
        return [a for a in self.scope.answers if a.batch in counted]


KNEW = "Everybody who tasted knew which is which, so what they hoped for may be in it: nothing is clear."
LEAKED = "A guess in the same session shows that people knew which is which: nothing is clear."


def work_out(db: Session, trial: Trial, found: Findings | None = None) -> Outcome:
    """The trial's own question, both schools, the five clocks, yields, energy and cost at equal servings,
    notes, and what is missing.
    """
    cooked = trial_measures(db, trial.id)
    scopes = scopes_of(db, trial.id)
    scope = scopes[0] if scopes else Scope("", [], True, {})
    loads = loads_of(cooked)
    scope = replace(scope, day_of=beside_loads(scope.day_of, loads, methods_tasted(scope.answers)))
    sat = list((found or Findings()).tastings.values())
    counted = {str(b.id) for b, m in cooked if m.standing is Standing.JUDGED}
    everything, blind = scope.answers, scope.blind
    answers = [a for a in scope.answers if a.batch in counted]
    now_asked = [a.spec() for a in trial.attributes]
    # What was tasted is judged by the questions as they were when its codes were opened.
    attributes = asked_when_opened(opened_tastings(db, trial.id)) or now_asked
    changed = what_changed(attributes, now_asked) if answers else []
    standing = safety_of_trial(db, trial.id, [b for b, _ in cooked], now().timestamp())
    logs = logs_of(db, trial.id)
    batches = one_by_one(db, trial, cooked, curves_of(db, trial.id, cooked, logs))
    by_log = measured(batches)
    record = OnRecord(by_log, counts_of(batches))
    name = cookings(db, trial.id, [b for b, _ in cooked])
    arms = _arms(trial, cooked, standing, by_log, name)
    before = earlier_spread(db, trial, attributes) if answers else None
    judging = _Judging(trial, arms, scope, any(t.not_blind for t in sat), before)
    verdicts = _verdicts(judging, answers, attributes)
    reread = Reread(changed, _verdicts(judging, answers, now_asked)) if changed else None
    weighted = verdicts[School.WEIGHTED]
    ranked = weighted.interval is None and verdicts[School.RANK].interval is not None
    chosen = verdicts.get(trial.deciding.school)
    usual = School.RANK if ranked else School.WEIGHTED
    front = chosen.school if chosen and (chosen.interval or not verdicts[usual].interval) else usual
    base = scored(front, arms, answers, attributes, day_of=scope.day_of, earlier=before)
    scale = scales_of(db, trial, cooked)
    servings = {k: scale[uuid.UUID(k)]([x.batch for x in mine]) for k, mine in batches.items() if mine}
    shifts = {s.id: s for s in shifts_of(db, trial.id)}
    means = per_attribute(answers, attributes)
    rescues = _rescues(cooked, everything, attributes)
    laid = asked_of(db, trial, judging.arms, rescues, one_load=from_one_load(scope.answers, loads))
    shown = Basis(
        verdicts[front],
        base.table,
        base.method_of,
        base.fit,
        blind,
        {a.key: a.name for a in arms},
        by_log,
        record.counts,
        curves_by_measure(batches),
        looks_of(cooked, name),
        contradictions(cooked, name),
        scope.day_of,
    )
    said = answer_of(db, trial, laid, shown)
    dots = [Dot(t, m, a, v) for (t, m, a), v in sorted(attribute_means(answers).items())]
    ground = ground_of(
        db,
        trial,
        laid.ways,
        record,
        judged_by(attributes),
        arms,
        answers,
        scope.day_of,
        blind=blind and not judging.leaked,
        earlier=before,
    )
    names = {str(m.id): m.name for m in trial.methods}
    good = [(b, m) for b, m in cooked if m.standing is Standing.JUDGED and m.complete]
    return Outcome(
        rescues=rescues,
        verdicts=verdicts,
        attributes=attributes,
        reread=reread,
        batch_sd=_batch_sd(verdicts[School.WEIGHTED], {a.batch: a.method for a in answers}),
        dots=dots,
        means=means,
        counted=_counted(answers, attributes),
        tasters=len({a.taster for a in answers}),
        methods=[
            _method(
                m_id,
                [(b, m) for b, m in cooked if str(b.method_id) == m_id],
                servings.get(m_id),
                shifts,
                logs,
            )
            for m_id in names
        ],
        choose_another=_another(said.leader or "", judging, answers, attributes, by_log),
        comments=[TasterWords(str(batch.method_id), text) for batch, text in opened_comments(db, trial.id)],
        pieces=trial.pieces,
        shifts_tell=what_shifts_tell(in_shifts(db, trial, [b for b, _ in good])),
        gaps=gaps({b.method.tag: m for b, m in good}),
        blind=blind and not judging.leaked,
        answer=said,
        scope=scope.name,
        beside=[
            *(_beside(judging, s, attributes, counted, weighted) for s in scopes[1:]),
            *tests_told(db, trial, found or Findings(), said.leader, counted),
        ],
        blindness=_blindness(db, trial.id, found or Findings()),
        measures=measures_told(record),
        what_next=_next(verdicts[front], base.fit, batches),
        claims=claims_told(db, trial, ground, cooked, logs, dots, name),
        claimable=claimable(ground),
        limits=[limit_words(x) for x in trial.deciding.limits],
    )


def _next(verdict: Verdict, found: Fit | None, batches: Mapping[str, Sequence[OneBatch]]) -> list[str]:
    """What would narrow it most, with what a cooking of each takes."""
    if found is None or verdict.leader is None or verdict.runner_up is None:
        return []
    both = [[b.batch.clocks.total_s for b in batches.get(m, ())] for m in (verdict.leader, verdict.runner_up)]
    takes = sum(fmean(x) for x in both) if all(both) else None
    return what_next(found, verdict.leader, verdict.runner_up, takes)


def _blindness(db: Session, trial_id: uuid.UUID, found: Findings) -> list[str]:
    """How blind each tasting was; by its name where several say something of their own."""
    name = {str(t.id): t.name for t in opened_tastings(db, trial_id)}
    said = {key: t.blindness for key, t in found.tastings.items() if t.blindness}
    if len(set(said.values())) < 2:
        return list(dict.fromkeys(line for lines in said.values() for line in lines))
    return [f"{name.get(key) or 'A tasting'}: {line}" for key, lines in said.items() for line in lines]


def _beside(
    judging: _Judging, other: Scope, attributes: Sequence[Attribute], counted: Container[str], main: Verdict
) -> ScopeTold:
    """What another round tells, and whether it turns the order."""
    again = replace(judging, scope=other)
    v = _verdicts(again, again.answers(counted), attributes)[School.WEIGHTED]
    shown = v.how_sure in (HowSure.CLEAR, HowSure.LEANING)
    turns = shown and v.leader is not None and main.leader is not None and v.leader != main.leader
    return ScopeTold(other.name or "plain", v.headline, v.how_sure, v.leader, turns)


def _batch_sd(verdict: Verdict, method_of: Mapping[str, str]) -> float | None:
    """The spread from batch to batch that a range allows for and these batches themselves show."""
    several = len(method_of) > len(set(method_of.values()))
    return verdict.interval.batch_sd if verdict.interval and several else None


def _another(
    leader: str,
    judging: _Judging,
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
    by_log: Measured,
) -> list[OtherChoice]:
    """When to choose another, in the order of methods."""
    may = [a.key for a in judging.arms if a.batches and a.may_lead]
    asked = by_questions(leader, judging.arms, answers, attributes, day_of=judging.scope.day_of)
    found = by_measures(leader, may, by_log)
    return [
        OtherChoice(m, "; ".join([*found.get(m, []), *asked.get(m, [])]))
        for m in may
        if (m in found or m in asked) and m != leader
    ]


def _rescues(
    measured: Sequence[tuple[Batch, BatchMeasures]],
    answers: Sequence[Answer],
    attributes: Sequence[Attribute],
) -> list[RescueSample]:
    """Batches that were given a finish, each with its own means."""
    rescued = {str(b.id): (b, m) for b, m in measured if m.standing is Standing.RESCUE}
    own = per_attribute([replace(a, method=a.batch) for a in answers if a.batch in rescued], attributes)
    return [
        RescueSample(
            str(b.method_id),
            k,
            b.replicate,
            m.why,
            {a: v[k] for a, v in own.items() if k in v},
            str(b.facts.get("word") or ""),
            str(b.facts.get("word_note") or ""),
        )
        for k, (b, m) in rescued.items()
    ]


def _verdicts(
    judging: _Judging, answers: Sequence[Answer], attributes: Sequence[Attribute]
) -> dict[School, Verdict]:
    """Each school's verdict on the same answers."""
    return {
        key: judge(
            key,
            judging.arms,
            answers,
            attributes,
            matters=judging.trial.matters if school.on_scale else 0.0,
            knew="" if judging.scope.blind and not judging.leaked else LEAKED if judging.leaked else KNEW,
            day_of=judging.scope.day_of,
            earlier=judging.earlier,
        )
        for key, school in SCHOOLS.items()
    }


def _counted(answers: Sequence[Answer], attributes: Sequence[Attribute]) -> dict[str, dict[str, str]]:
    """Attribute to method to what was counted, in words: of scales whose answers are not averaged."""
    unaveraged = {a.key: a for a in attributes if not SCALES[a.scale].averaged}
    said: dict[str, dict[str, list[float]]] = {}
    for (_, method, attribute), value in sorted(attribute_means(answers).items()):
        if attribute in unaveraged:
            said.setdefault(attribute, {}).setdefault(method, []).append(value)
    return {
        key: {m: SCALES[a.scale].tell(values, a.words) for m, values in row.items()}
        for key, row in said.items()
        for a in (unaveraged[key],)
    }


def asked_when_opened(opened: Sequence[Tasting]) -> list[Attribute]:
    """The questions of tastings as they were at the opening; of one asked at several the first opening
    counts.
    """
    found: dict[str, Attribute] = {}
    for tasting in opened:
        for row in tasting.questions:
            found.setdefault(str(row["id"]), attribute_from_record(row))
    return list(found.values())


def _method(
    method_id: str,
    mine: Sequence[tuple[Batch, BatchMeasures]],
    servings: ForServings | None,
    shifts: Mapping[uuid.UUID, Shift],
    logs: Mapping[str, Sequence[Entry]],
) -> MethodOutcome:
    judged = [m for _, m in mine if m.standing is Standing.JUDGED]
    yields = [m.cooked_yield for m in judged if m.cooked_yield is not None]
    return MethodOutcome(
        method=method_id,
        servings=_told(servings) if servings else None,
        cooked_yield=fmean(yields) if yields else None,
        notes=[n for m in judged for n in (*m.cues, *m.notes)],
        nuisance=sorted({w for m in judged for w in m.nuisance}),
        also=also_measured(judged),
        photos=[
            PhotoTold(str(e.payload["photo_id"]), str(e.payload.get("face") or ""), b.replicate)
            for b, m in mine
            if m.standing is Standing.JUDGED
            for e in logs.get(str(b.id), ())
            if e.kind is EntryKind.PHOTO
        ],
        batches=[
            filled(
                BatchOutcome,
                m,
                batch=str(b.id),
                replicate=b.replicate,
                standing=m.standing.value,
                weights=dict(m.weights),
                entries=len(m.entry_ids),
                shift=shifts[b.shift_id].name,
                served_at=shifts[b.shift_id].serve_from.timestamp(),
                written_up=shifts[b.shift_id].written_up,
            )
            for b, m in mine
        ],
    )


def _told(s: ForServings) -> ServingsTold:
    clocks = ClocksTold(**asdict(s.clocks))
    return ServingsTold(s.pieces, s.rounds, clocks, s.clocks.total_s, s.energy_j, s.cost, s.how)
