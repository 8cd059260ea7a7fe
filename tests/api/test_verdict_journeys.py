"""Whole trials whose answer is not a winner: people who want two things, evenings that differ, a result that
comes the next day.
"""

import re
from datetime import timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from tests.api.helpers import Client, an_entry, ok
from tests.conftest import run_worker_once, session
from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import TrialKind
from yeasty.core.decide.outcome import HowSure, Outcome
from yeasty.demo.evening import Ask, Evening, finish
from yeasty.operations.decide.decisions import outcome_of
from yeasty.store.ask.tables import Method, Trial
from yeasty.store.base import now
from yeasty.store.cook.tables import Batch
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.taste.tables import AnswerRow, Sample, Tasting

WAYS = (("griddle", "Thin", "TH"), ("griddle", "Thick", "TK"))


def evening(db: Session, title: str, seed: int = 7300, **more: Any) -> Outcome:
    """A finished trial of bean cakes, two ways over two evenings, and what Decide says of it."""
    appliances = {a.kind: a for a in db.scalars(select(Appliance))}
    lead = db.scalars(select(Account).where(Account.login == "lead")).one()
    people = [Person(name=f"{title} {n}") for n in range(8)]
    db.add_all(people)
    db.flush()
    spec = {
        "title": title,
        "dish": f"bean cakes, {title}",
        "kind": TrialKind.SIDE_BY_SIDE,
        "question": "Which is better?",
        "rule": "Liking.",
        "ways": WAYS,
        "asks": (Ask("Liking", 1.0, "leave it", "more of it", (5.0, 5.0)),),
        "days": 2,
        **more,
    }
    finish(db, Evening(**spec), appliances, (lead, people), now() - timedelta(days=20), seed)
    trial = db.scalars(select(Trial).where(Trial.title == title)).one()
    found = outcome_of(db, trial.id)
    assert found is not None
    return found


def test_a_panel_that_wants_two_things_gets_no_one_winner_and_says_who_wants_what(demo_url: str) -> None:
    with session(demo_url) as db:
        split = evening(db, "split", camps=3.0)
        said = " ".join(s.text for s in split.answer.sentences)
        assert split.answer.how_sure is HowSure.LEVEL
        assert "4 want Thin, 4 want Thick" in said or "4 want Thick, 4 want Thin" in said, said
        assert "no one way for all" in said
        alike = evening(db, "of one mind", 7400)
        assert "no one way for all" not in " ".join(s.text for s in alike.answer.sentences)


def test_an_evening_on_which_all_was_better_changes_no_difference(demo_url: str) -> None:
    liking = (Ask("Liking", 1.0, "leave it", "more of it", (3.4, 5.4)),)
    with session(demo_url) as db:
        moody = evening(db, "a good evening", asks=liking, moods=(0.0, 2.0)).verdicts[School.WEIGHTED]
        assert moody.interval is not None
        # Two points between evenings, two between ways: the range holds the latter alone.
        assert moody.interval.low <= 2.0 <= moody.interval.high
        assert moody.interval.high - moody.interval.low < 3.0
        assert moody.leader is not None


def test_cookings_that_are_set_aside_are_told_apart_by_their_evening(lead: Client, demo_url: str) -> None:
    with session(demo_url) as db:
        evening(db, "twice set aside")
        path = f"/trials/{db.scalars(select(Trial.id).where(Trial.title == 'twice set aside')).one()}"
        db.commit()
    for s in lead.get(f"{path}/shifts").json["items"]:
        thin = next(b for b in lead.get(f"/shifts/{s['id']}/bench").json["batches"] if b["name"] == "Thin")
        entries = [an_entry(thin["id"], "void", {"why": "wrong flour"})]
        ok(lead.send("POST", f"/shifts/{s['id']}/entries", {"entries": entries}))
    lead.get(f"{path}/decision")
    run_worker_once(demo_url)
    said = lead.get(f"{path}/decision").json["outcome"]["answer"]["sentences"]
    told = next(s["stands_on"] for s in said if "of Thin set aside" in s["text"])
    assert len(set(re.findall(r"Thin, cooking \d, (\d+ \w+): void, wrong flour", told))) == 2, told


def test_a_layer_of_fat_that_is_weighed_the_next_day_decides(lead: Client, demo_url: str) -> None:
    title = "Cauliflower, which keeps its weight"
    card = next(t for t in lead.get("/trials?search=").json["items"] if t["title"] == title)
    trial = lead.get(f"/trials/{card['id']}").json
    ok(lead.send("PUT", f"/trials/{card['id']}/deciding", {"claim": "loss:rendered fat"}, trial["version"]))

    def answer() -> dict[str, Any]:
        lead.get(f"/trials/{card['id']}/decision")
        run_worker_once(demo_url)
        return dict(lead.get(f"/trials/{card['id']}/decision").json["outcome"]["answer"])

    before = answer()
    assert before["headline"].startswith("Rendered fat is on record for no way")
    assert before["leader"] is None
    fat = {m["id"]: kg for m, kg in zip(trial["methods"], (0.002, 0.014, 0.022), strict=True)}
    for s in lead.get(f"/trials/{card['id']}/shifts").json["items"]:
        for b in lead.get(f"/shifts/{s['id']}/bench").json["batches"]:
            weighed = {"of": "rendered fat", "kg": fat[b["method_id"]]}
            entries = [an_entry(b["id"], "weight", weighed)]
            ok(lead.send("POST", f"/shifts/{s['id']}/entries", {"entries": entries}))
    after = answer()
    assert after["leader"] == trial["methods"][0]["id"]
    assert after["headline"].startswith("Least rendered fat: Steamer")
    assert {s["standing"] for s in after["sentences"]} >= {"measured"}


def test_one_taster_is_told_evening_by_evening_in_the_order_in_which_they_were_held(demo_url: str) -> None:
    with session(demo_url) as db:
        for seed in (8100, 8200, 8300, 8400):
            title = f"alone {seed}"
            told = evening(db, title, seed, people=1).answer.sentences[0].text
            rows = db.execute(
                select(Tasting.served_at, Method.name, AnswerRow.said)
                .join(Sample, Sample.id == AnswerRow.sample_id)
                .join(Batch, Batch.id == Sample.batch_id)
                .join(Method, Method.id == Batch.method_id)
                .join(Tasting, Tasting.id == Sample.tasting_id)
                .join(Trial, Trial.id == Tasting.trial_id)
                .where(Trial.title == title)
                .order_by(Tasting.served_at)
            )
            given: dict[Any, dict[str, float]] = {}
            for at, name, said in rows:
                given.setdefault(at, {})[name] = said.value
            first, second = ("Thin", "Thick") if told.startswith("Thin against") else ("Thick", "Thin")
            gaps = [e[first] - e[second] for e in given.values()]
            words = [f"{abs(g):.1f} points {'ahead' if g > 0 else 'behind'}" if g else "level" for g in gaps]
            assert told.endswith(f"{', then '.join(words)}."), (told, gaps)
