"""Tastings put into what is told: to the lead, and to whoever tastes.

No answer a taster can get tells which method a code is: it holds codes in the seat's own order, questions and
the allergens of the whole table, nothing per method, and never an id that the lead's pages use.
"""

import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID
from zoneinfo import ZoneInfo

from flask import current_app, request

from yeasty.api.ask.views import question_view, scale_views
from yeasty.api.problems import not_found
from yeasty.api.request import db, written
from yeasty.api.shown import shown
from yeasty.api.taste.taster_views import AllergenAsked, TasterLabel, TasterRound, TasterSample, TasterView
from yeasty.api.taste.views import (
    CardView,
    PanelistView,
    RoundView,
    SeatView,
    TastingView,
    TestView,
    UnderView,
)
from yeasty.core.kernel.text import clock_time
from yeasty.core.taste.blinding import balance
from yeasty.core.taste.cups import Protocol
from yeasty.core.taste.paper import Ballot, BallotRound, ballots_html, plates_html
from yeasty.core.taste.tests import TESTS, TestKey
from yeasty.operations.safety.batches import clock_of, too_late
from yeasty.operations.taste import answers, gathered, panels, serving
from yeasty.operations.taste.people import Panelist
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import Attribute, Method
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.taste import queries as tastings
from yeasty.store.taste.tables import AnswerRow, Comment, KeyView, Sample, Seat, SeatAct, TasteRound, Tasting

# The same for every taster and every sample: it must not tell which is which.
STOP = "Stop eating: something on the table has stood too long. Ask the cook."
DISCARD = "Stop eating and put everything aside. Ask the cook."
SEAT_WORDS = {
    "handed over": "handed the link over",
    "typed in": "typed a paper ballot in, and so knows these answers",
}


def is_open(t: Tasting) -> bool:
    """Whether the codes are open in this kitchen."""
    return t.opened_at is not None and not t.from_elsewhere


def address() -> tuple[str, str]:
    """Where taster links point, and a warning where other devices can't reach it."""
    set_one = (
        the_kitchen(db()).public_address
        or current_app.config["PUBLIC_ADDRESS"]
        or request.host_url.rstrip("/")
    )
    host = set_one.split("://")[-1].split("/")[0].rsplit(":", 1)[0].strip("[]")
    loopback = host in ("localhost", "::1") or host.startswith("127.")
    warning = (
        "These links point at this machine only: a phone can't open them. Start with --host, or set the "
        "kitchen's address at Kitchen."
        if loopback
        else ""
    )
    return set_one, warning


def sample_words(s: Sample, words: Callable[[Batch], str]) -> str:
    """A sample as the lead knows it; `words` : see `serving.called`."""
    if s.batch is None:
        what = f"{s.outside} (not cooked here)" if s.outside else "not turned over yet"
    else:
        what = words(s.batch)
    beside = [s.piece, "" if s.state == "fresh" else s.state, f"spoilt: {s.spoilt.why}" if s.spoilt else ""]
    return ", ".join([what, *(b for b in beside if b)])


def key_of(t: Tasting) -> dict[str, str]:
    """Code to what stands under it."""
    words = serving.called(db(), t, written())
    return {s.code: sample_words(s, words) for s in t.samples}


@dataclass(frozen=True)
class Beside:
    """What several tastings are told with, asked for once."""

    acts: Sequence[SeatAct]
    views: Sequence[KeyView]
    given: Mapping[UUID, int]

    @classmethod
    def of(cls, rows: Sequence[Tasting]) -> "Beside":
        """Of these tastings."""
        ids = [t.id for t in rows]
        return cls(
            tastings.acts_of(db(), ids), tastings.key_views_of(db(), ids), tastings.answers_given(db(), ids)
        )


def question_of(row: TasteRound) -> str:
    """What a taster reads."""
    settings = row.settings
    attribute = db().get(Attribute, UUID(settings.attribute)) if settings.attribute else None
    method = db().get(Method, UUID(settings.label)) if settings.label else None
    return TESTS[TestKey(row.test)].question(
        {
            "attribute": attribute.name.lower() if attribute else "",
            "label": method.name if method else "",
        }
    )


def _balance(t: Tasting, row: TasteRound) -> str:
    orders = [o for s in t.seats if s.revoked_at is None and (o := s.order_of(row.id))]
    if not orders or TESTS[TestKey(row.test)].cups > 1:
        return "Orders are dealt so that each comes as often as the others." if orders else ""
    places = {code: i for i, code in enumerate(sorted({c for o in orders for c in o}))}
    return balance([[places[c] for c in o] for o in orders]).words()


def round_view(t: Tasting, row: TasteRound) -> RoundView:
    """A round as the lead sees it."""
    test = TESTS[TestKey(row.test)]
    return shown(
        RoundView,
        row,
        test=test.key,
        test_name=test.name,
        age=row.age_words,
        question=question_of(row),
        drawn=test.drawn,
        codes=sorted(s.code for s in row.samples),
        balance=_balance(t, row),
        attributes=[question_view(a) for a in answers.questions_of(db(), row)],
        spoilt=[f"{s.code}: {s.spoilt.why}" for s in row.samples if s.spoilt],
    )


def _seat_view(t: Tasting, s: Seat, beside: Beside, knows: Mapping[UUID, list[str]], who: UUID) -> SeatView:
    gone = {x.code for x in t.samples if x.spoilt}
    wanted = [
        len(set(s.order_of(r.id)) - gone) if TESTS[TestKey(r.test)].drawn == "samples" else 1
        for r in t.rounds
    ]
    said = s.allergens_said.get("said", {})
    return SeatView(
        id=str(s.id),
        name=s.person.name,
        person_id=str(who),
        revoked=s.revoked_at is not None,
        acts=[
            f"{a.at:%d %b %H:%M} UTC, {a.person.name}: {SEAT_WORDS[a.what]}"
            for a in beside.acts
            if a.seat_id == s.id
        ],
        answered=beside.given.get(s.id, 0),
        wanted=sum(wanted),
        finished=s.finished_at is not None,
        knows=knows.get(who, []),
        allergies=str(s.allergens_said.get("words", "")) or s.person.allergies,
        stop=", ".join(sorted(w for w, v in said.items() if v == "yes")),
        orders=[s.order_of(r.id) for r in t.rounds],
    )


def tasting_view(t: Tasting, beside: Beside | None = None) -> TastingView:
    """A tasting as the lead sees it."""
    _, warning = address()
    beside = beside or Beside.of([t])
    knows = gathered.who_knows(db(), t)
    people = tastings.same_people(db(), [s.person_id for s in t.seats])
    return shown(
        TastingView,
        t,
        id=str(t.id),
        opened_at=t.opened_at if is_open(t) else None,
        opened_elsewhere=t.opened_at is not None and t.from_elsewhere,
        stopped=t.stopped_why if t.stopped_at else "",
        rounds=[round_view(t, r) for r in t.rounds],
        seats=[_seat_view(t, s, beside, knows, people[s.person_id]) for s in t.seats],
        key=key_of(t) if is_open(t) or t.stopped_at else {},
        key_views=[f"{v.viewed_at:%d %b %H:%M} UTC: {v.why}" for v in beside.views if v.tasting_id == t.id],
        link_warning=warning,
        clock=[] if t.opened_at else clock_of(db(), t, time.time()),
        steps=serving.steps_of(t, serving.called(db(), t, written())) if t.opened_at is None else [],
        cards=[CardView(place=p, codes=c) for p, c in serving.cards_of(t).items()],
        under=_under(t),
        ages=serving.ages_told(db(), t),
        serve_at=[] if t.served_at else _serve_at(t),
    )


def _under(t: Tasting) -> list[UnderView]:
    """What may be read under a cup where nobody plates."""
    if t.protocol == Protocol.PLATED.value or t.opened_at is not None:
        return []
    if t.protocol == Protocol.ALONE.value:
        return [UnderView(under=c.letter, words=c.letter) for c in t.cups]
    words = serving.called(db(), t, written())
    found = [UnderView(under=str(b.id), words=words(b)) for b in serving.batches_of(t)]
    return sorted(found, key=lambda u: u.words)


def _serve_at(t: Tasting) -> list[str]:
    """When each leaves for the table so that all are of one age, on the kitchen's clock."""
    found = serving.clock_of_serving(db(), t, time.time())
    zone = ZoneInfo(the_kitchen(db()).time_zone)
    return found.words(lambda at: clock_time(at, zone, time.time(), written())) if found else []


def test_views() -> list[TestView]:
    """The tests that may be chosen, in the order in which they are offered."""
    return [TestView.model_validate(t, from_attributes=True) for t in TESTS.values()]


def panelist_view(p: Panelist) -> PanelistView:
    """Somebody who may be given a seat."""
    return shown(PanelistView, p.person, id=str(p.person.id), sat=p.sat, last=p.last)


def _taster_round(
    seat: Seat, row: TasteRound, given: Sequence[AnswerRow], comments: Sequence[Comment]
) -> TasterRound:
    test, order = TESTS[TestKey(row.test)], seat.order_of(row.id)
    codes = {s.id: s.code for s in row.samples}
    labels = answers.labels_of(db(), row) if test.drawn == "labels" else {}
    gone = {s.code for s in row.samples if s.spoilt}
    order = [c for c in order if c not in gone]
    by_code = {c: TasterSample(code=c, answers={}, refused=[], not_for_me=False, comment="") for c in order}
    whole: AnswerRow | None = None
    for a in given:
        if a.round_id != row.id or (a.sample_id and codes[a.sample_id] in gone):
            continue
        if a.sample_id is None:
            whole = a
        elif a.attribute_id is None:
            by_code[codes[a.sample_id]].not_for_me = True
        elif a.said is None:
            by_code[codes[a.sample_id]].refused.append(str(a.attribute_id))
        else:
            by_code[codes[a.sample_id]].answers[str(a.attribute_id)] = a.said
    for c in comments:
        if c.round_id == row.id and c.sample_id and codes[c.sample_id] not in gone:
            by_code[codes[c.sample_id]].comment = c.text
    for sample in by_code.values():
        sample.refused.sort()
        sample.answers = dict(sorted(sample.answers.items()))
    return shown(
        TasterRound,
        row,
        drawn=test.drawn,
        question=question_of(row),
        age=row.age_words,
        ties=row.settings.ties,
        reference=order[0] if test.reference and order else "",
        samples=[by_code[c] for c in order],
        attributes=[question_view(a) for a in answers.questions_of(db(), row)],
        labels=[TasterLabel(key=k, words=w) for k, (w, _) in labels.items()],
        said=answers.as_shown(whole.said, labels) if whole else None,
        refused=whole.refused if whole else False,
    )


def must_not(seat: Seat) -> list[str]:
    """What is on the table that this taster has said they must not eat."""
    said = seat.allergens_said.get("said", {})
    return sorted(w for w, v in said.items() if v == "yes")


def taster_view(seat: Seat) -> TasterView:
    """A taster's page: built from codes alone."""
    tasting = db().get_one(Tasting, seat.tasting_id)
    trial = whole_trial(db(), tasting.trial_id)
    if trial is None:
        raise not_found("trial")
    given = tastings.newest_answers(db(), [seat.id])
    comments = tastings.newest_comments(db(), [seat.id])
    said = seat.allergens_said.get("said", {})
    there = panels.allergens_of(trial, tasting.served_with)
    unchecked = panels.allergens_unchecked(trial, tasting.served_with)
    late = not is_open(tasting) and too_late(db(), tasting, time.time())
    return TasterView(
        dish=trial.dish,
        name=seat.person.name,
        allergens=[
            *(AllergenAsked(what=w, checked=True, said=said.get(w, "")) for w in there),
            *(AllergenAsked(what=w, checked=False, said=said.get(w, "")) for w in unchecked),
        ],
        allergies=str(seat.allergens_said.get("words", "")),
        told_allergens=seat.told_allergens_at is not None,
        must_not=must_not(seat),
        stop=DISCARD if tasting.stopped_at else STOP if late else "",
        one_way=tasting.one_way,
        served=tasting.served_at is not None,
        rounds=[_taster_round(seat, r, given, comments) for r in tasting.rounds] if tasting.served_at else [],
        scales=scale_views(),
        closed=is_open(tasting),
        finished=seat.finished_at is not None,
        may_quote=seat.may_quote,
    )


def ballots_of(t: Tasting, paper: str) -> str:
    """Ballots of everybody who sits here, on paper."""
    trial = whole_trial(db(), t.trial_id)
    if trial is None:
        raise not_found("trial")
    ballots = [
        Ballot(seat.person.name, [_ballot_round(seat, r) for r in t.rounds])
        for seat in t.seats
        if seat.revoked_at is None
    ]
    there = panels.allergens_of(trial, t.served_with)
    unchecked = panels.allergens_unchecked(trial, t.served_with)
    return ballots_html(trial.dish, ballots, there, unchecked, paper)


def plates_of(t: Tasting, paper: str) -> str:
    """A mat for everybody who sits here, on paper."""
    several = len(t.rounds) > 1
    return plates_html(
        [
            (
                seat.person.name,
                [(f"Round {r.position + 1}" if several else t.name, seat.order_of(r.id)) for r in t.rounds],
            )
            for seat in t.seats
            if seat.revoked_at is None
        ],
        paper,
    )


def _ballot_round(seat: Seat, row: TasteRound) -> BallotRound:
    test = TESTS[TestKey(row.test)]
    return BallotRound(
        test,
        question_of(row),
        ", ".join(w for w in (row.name, row.part, row.condition, row.age_words) if w),
        seat.order_of(row.id),
        answers.questions_of(db(), row),
        [w for w, _ in answers.labels_of(db(), row).values()] if test.drawn == "labels" else [],
        row.break_s,
    )
