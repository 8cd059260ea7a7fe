"""What claims of a trial stand on, and the claims that were picked, as its records have them now."""

import uuid
from collections.abc import Callable, Mapping, Sequence
from functools import cache, partial
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import Attribute, DoneRule
from yeasty.core.cook.as_done import in_all
from yeasty.core.cook.measures import BatchMeasures, Standing
from yeasty.core.cook.payloads import BY_EYE
from yeasty.core.cook.standing import effective
from yeasty.core.decide import claims, records
from yeasty.core.decide.compared import OnRecord
from yeasty.core.decide.curves import Points, readable
from yeasty.core.decide.measured import measure_of
from yeasty.core.decide.nested import Earlier
from yeasty.core.decide.outcome import Claimable, ClaimTold, Dot
from yeasty.core.decide.questions.kind import Look, Way
from yeasty.core.decide.scored import Arm, scored
from yeasty.core.decide.scores import Answer
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.scales import SCALES
from yeasty.core.setup.differences import LEVELS, Fact, compare, differences, results_by
from yeasty.operations.cook.as_done import facts_as_done
from yeasty.operations.setup.fairness import facts_of
from yeasty.store.ask.tables import Trial
from yeasty.store.cook.queries import entries_of_trial
from yeasty.store.cook.tables import Batch, ProbeLogRow, Shift
from yeasty.store.decide.queries import claims_of

Cooked = Sequence[tuple[Batch, BatchMeasures]]
# What a cooking is called beside its way; see `cookings`.
Naming = Callable[[Batch], str]
# A probe tells a reading every second or so; a curve needs no more points than that.
MOST_POINTS = 60
Answers = Sequence[Answer]


def logs_of(db: Session, trial_id: uuid.UUID) -> dict[str, list[Entry]]:
    """Batch to what stands of its log."""
    by_batch: dict[str, list[Entry]] = {}
    for row in entries_of_trial(db, trial_id):
        by_batch.setdefault(str(row.batch_id), []).append(row.core())
    return {batch: effective(entries) for batch, entries in by_batch.items()}


def curves_of(
    db: Session, trial_id: uuid.UUID, cooked: Cooked, logs: Mapping[str, Sequence[Entry]]
) -> dict[str, dict[str, Points]]:
    """Batch to its curves from when its heat began: the core as typed and by probes, and the weight as a
    share of the first, where it was weighed again.
    """
    probes = _probed(db, trial_id)
    found: dict[str, dict[str, Points]] = {}
    for b, m in cooked:
        if m.heat_from is None:
            continue
        start, entries = m.heat_from, logs.get(str(b.id), ())
        core = [
            (e.when - start, float(e.payload["celsius"]))
            for e in entries
            if e.kind is EntryKind.TEMPERATURE and e.payload["where"] == "core" and e.when >= start
        ]
        core += [(at - start, c) for at, c in probes.get(str(b.id), ()) if at >= start]
        mine = {"core": readable(core), "weight": _weights(entries, start)}
        found[str(b.id)] = {name: points for name, points in mine.items() if len(points) > 1}
    return found


def _weights(entries: Sequence[Entry], start: float) -> Points:
    """One thing weighed again and again, as shares of its first weight; the one weighed most often."""
    by: dict[str, list[tuple[float, float]]] = {}
    for e in entries:
        if e.kind is EntryKind.WEIGHT and e.when >= start and e.payload["of"] != BY_EYE:
            by.setdefault(str(e.payload["of"]), []).append((e.when - start, float(e.payload["kg"])))
    most = max(by.values(), key=len, default=[])
    points = readable(most)
    # A first and a last are a yield; three moments are a curve.
    return tuple((at, kg / points[0][1]) for at, kg in points) if len(points) > 2 and points[0][1] else ()


def _probed(db: Session, trial_id: uuid.UUID) -> dict[str, list[tuple[float, float]]]:
    """Batch to the core by its probe logs, thinned."""
    rows = db.scalars(
        select(ProbeLogRow)
        .join(Batch)
        .join(Shift, Shift.id == Batch.shift_id)
        .where(Shift.trial_id == trial_id)
    )
    found: dict[str, list[tuple[float, float]]] = {}
    for row in rows:
        read = row.channels.get("core") or []
        start = row.starts_at.timestamp()
        points = [(start + t, float(c)) for t, c in zip(row.times_s, read, strict=False) if c is not None]
        step = max(1, len(points) // MOST_POINTS)
        found.setdefault(str(row.batch_id), []).extend(points[::step])
    return found


def looks_of(cooked: Cooked, name: Naming) -> dict[str, list[Look]]:
    """Way to what was seen of its judged batches, with the minute in the heat."""
    found: dict[str, list[Look]] = {}
    for b, m in cooked:
        if m.standing is not Standing.JUDGED:
            continue
        for face, at, words in m.looks:
            after = (
                "" if m.heat_from is None or at < m.heat_from else f", minute {(at - m.heat_from) / 60:.0f}"
            )
            found.setdefault(str(b.method_id), []).append(Look(face, f"“{words}” ({name(b)}{after})"))
    return found


def contradictions(cooked: Cooked, name: Naming) -> list[str]:
    """Records of judged batches that cannot both be so."""
    return [
        f"{b.method.name}, {name(b)}: {line}"
        for b, m in cooked
        if m.standing is Standing.JUDGED
        for line in m.contradicted
    ]


def ground_of(
    db: Session,
    trial: Trial,
    ways: Sequence[Way],
    record: OnRecord,
    asked: Mapping[str, tuple[str, Sequence[Attribute]]],
    arms: Sequence[Arm],
    answers: Answers,
    day_of: Mapping[str, str],
    *,
    blind: bool,
    earlier: Earlier | None = None,
) -> claims.Ground:
    """What claims may stand on.

    Parameters
    ----------
    asked : a claim's measure to its words and the questions it stands on; see `judged_by`
    earlier : what the kitchen knows of its batches, by all that weighs
    """
    judged = {}
    for key, (about, attributes) in asked.items():
        mine = [a for a in answers if a.attribute in {x.key for x in attributes}]
        # What earlier trials tell is of the whole score; of one question alone only where it is all of it.
        whole = earlier if key == claims.SCORE or len(asked) == 1 else None
        base = scored(School.WEIGHTED, arms, mine, attributes, day_of=day_of, earlier=whole)
        fit = base.fit if mine else None
        if fit is not None:
            judged[key] = (about, fit)
    return claims.Ground(
        ways, record, judged, blind, _differ(db, trial), trial.pieces, trial.deciding.claim, trial.matters
    )


def judged_by(attributes: Sequence[Attribute]) -> dict[str, tuple[str, Sequence[Attribute]]]:
    """What people can be quoted for: all that weighs together, and each question that is averaged."""
    averaged = [a for a in attributes if SCALES[a.scale].averaged and SCALES[a.scale].weighs]
    each: dict[str, tuple[str, Sequence[Attribute]]] = {claims.ASKED + a.key: (a.name, [a]) for a in averaged}
    # Of one question alone the score is that question.
    weighed = {claims.SCORE: ("all that was asked, weighed", list(attributes))} if len(averaged) > 1 else {}
    return {**weighed, **each}


# What comes of how it was cooked is no cause of how it came out.
CAME_OF_IT = frozenset({"core at the end"})
Columns = Mapping[str, Mapping[str, Fact]]


def _done_apart(columns: Columns, trial: Trial, first: str, second: str) -> list[str]:
    """Fields in which two ways lay apart as they were cooked, besides what came of it: every batch of one on
    one side of every batch of the other, since batches of one way differ among themselves too.

    `columns` : batch, its tag first, to its facts; `first`, `second` : tags
    """
    mine = {label: f for label, f in columns.items() if label.split(" ")[0] in (first, second)}
    compared, _ = in_all(mine)
    found = compare(compared, trial.varied, results=results_by(DoneRule(trial.done_rule)))

    def of(tag: str, name: str) -> list[Any]:
        return [f[name].value for label, f in compared.items() if label.split(" ")[0] == tag]

    causes = [d.field for d in found if not d.result and d.field not in CAME_OF_IT]
    return [name for name in causes if _apart(of(first, name), of(second, name))]


def _apart(first: Sequence[Any], second: Sequence[Any]) -> bool:
    """Whether two rows of values have nothing in common.

    >>> _apart([1.0, 2.0], [3.0]), _apart([1.0, 3.0], [2.0]), _apart(["Ada"], ["Ada"])
    (True, False, False)
    """
    if not first or not second:
        return False
    if all(isinstance(v, int | float) for v in (*first, *second)):
        return bool(max(first) < min(second) or max(second) < min(first))
    return set(map(str, first)).isdisjoint(map(str, second))


def _differ(db: Session, trial: Trial) -> Callable[[str, str], Sequence[str]]:
    """Fields in which two ways differ, by the design and as cooked, besides what came of them."""
    columns, _ = facts_as_done(db, trial, System.METRIC)
    tag_of = {str(m.id): m.tag for m in trial.methods}
    by_tag = {f.tag: f for f in facts_of(db, trial)}

    @cache
    def differ(first: str, second: str) -> Sequence[str]:
        pair = [by_tag[tag_of[first]], by_tag[tag_of[second]]]
        found = differences(pair, trial.varied, done_rule=DoneRule(trial.done_rule))
        laid = [d.field for d in found if not d.result and d.field != LEVELS]
        done = _done_apart(columns, trial, tag_of[first], tag_of[second])
        return list(dict.fromkeys([*laid, *done]))

    return differ


def claims_told(
    db: Session,
    trial: Trial,
    ground: claims.Ground,
    cooked: Cooked,
    logs: Mapping[str, Sequence[Entry]],
    dots: Sequence[Dot],
    name: Naming,
) -> list[ClaimTold]:
    """The claims that were picked, in order, as the records have them now."""
    found = []
    for row in claims_of(db, trial.id):
        said = claims.told(
            ground, row.measure, str(row.subject_id), str(row.other_id) if row.other_id else None
        )
        found.append(ClaimTold(str(row.id), said, _records(ground, said, cooked, logs, dots, name)))
    return found


def _records(
    ground: claims.Ground,
    said: Claimable,
    cooked: Cooked,
    logs: Mapping[str, Sequence[Entry]],
    dots: Sequence[Dot],
    name: Naming,
) -> list[str]:
    """The lines that a claim opens to."""
    about = [w for w in ground.ways if said.other is None or w.key in (said.subject, said.other)]
    if said.measure in ground.judged:
        question = said.measure.removeprefix(claims.ASKED)
        questions = {d.attribute for d in dots} if said.measure == claims.SCORE else {question}
        pairs = [(w.key, w.name) for w in about]
        rows = [d for d in dots if d.attribute in questions]
        return [
            line if len(questions) == 1 else f"{line} (mean of all questions)"
            for line in records.judged_lines(_over_questions(rows), pairs)
        ]
    m = measure_of(said.measure)
    if m is None:
        return []
    lines = []
    for w in about:
        values = list(ground.record.of(m.key).get(w.key, ()))
        counted = list(ground.record.counts.get(m.key, {}).get(w.key, ()))
        mine = [
            (b, x)
            for b, x in cooked
            if str(b.method_id) == w.key and x.standing is Standing.JUDGED and x.complete
        ]
        # Batches of which the measure tells nothing stand in no line.
        for n, (b, x) in enumerate(mine):
            if len(values) == len(mine):
                came = (
                    f"{counted[n][0]} of {counted[n][1]}" if len(counted) == len(mine) else m.say(values[n])
                )
            else:
                came = "see the log"
            lines += records.lines_of(
                m.key,
                [e for e in logs.get(str(b.id), ()) if e.id in x.entry_ids],
                f"{w.name}, {name(b)}",
                came,
                partial(_what, {s.key: s.what for s in b.chain().steps}),
            )
    return lines


def _what(steps: Mapping[str, str], key: str) -> str:
    return steps.get(key, "")


def _over_questions(rows: Sequence[Dot]) -> list[Dot]:
    """A person's answers about a way, their mean over questions."""
    by: dict[tuple[str, str], list[float]] = {}
    for d in rows:
        by.setdefault((d.taster, d.method), []).append(d.value)
    return [Dot(t, m, "", sum(v) / len(v)) for (t, m), v in by.items()]
