"""Chickpeas, soaked overnight or not, in the pressure cooker: one change, in the middle of cooking."""

from datetime import datetime
from decimal import Decimal

from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.entries import EntryKind as K
from yeasty.core.kernel.scales import Scale
from yeasty.demo.asked import ask, asks
from yeasty.demo.cooking import Log, Story, cook_batch, running_shift
from yeasty.operations.ask import designs, lots
from yeasty.store.kitchen.people_tables import Account
from yeasty.store.kitchen.tables import Appliance

SEED = 71_000
SERVE_IN_MIN = 24


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account, moment: datetime) -> None:
    """The trial and its running shift, laid around `moment`."""
    trial = designs.new_trial(
        db,
        title="Chickpeas, soaked or not",
        dish="chickpeas",
        question="Does soaking overnight give creamier chickpeas at the same bite, or only a shorter cook?",
        kind=TrialKind.ONE_CHANGE,
    )
    trial.aliases = "garbanzos, hummus base"
    trial.answer_rule = (
        "Creaminess at the same tenderness; the soaked ones must win by a point to be worth a night."
    )
    trial.hunch = "Soaked ones are creamier and split less."
    trial.matters, trial.pieces, trial.food_class = 1.0, 8, "plant"
    trial.varied = ["preparation", "cooking time", "start temperature", "appliance"]
    ask(
        db,
        trial,
        asks("Creaminess", 2.0, "grainy", "creamy"),
        asks("Skins", 1.0, "not noticed", "tough, loose", high_is_better=False),
        asks("Order", 0.0, scale=Scale.RANK),
    )
    for name, tag, appliance, minutes, start in (
        ("Soaked overnight", "SO", "Pressure cooker, 6 l", 13, 12.0),
        ("Straight from dry", "DR", "Pressure cooker, 5 l", 42, 20.0),
    ):
        method = designs.add_method(db, trial, techniques()["pressure_cooker"], name, [appliances[appliance]])
        method.tag, method.batch_kg, method.pieces_per_batch, method.start_c = tag, 0.250, 4, start
        method.piece_shape, method.piece_thickness_m, method.piece_food = "sphere", 0.012, "chickpeas_cooked"
        method.hazards = [*method.hazards, "pulses_pressure"]
        for step in method.steps:
            if step.phase == "load":
                step.what, step.duration_s = "Fill to half at most, close, check the vent", 150
            elif step.phase == "come_up":
                step.duration_s = 600
            elif step.phase == "cook":
                step.what, step.duration_s, step.set_point_c = "Cook at dial 2", minutes * 60.0, 115
                step.end_rule, step.end_cue = "cue", "a chickpea crushes between two fingers"
            elif step.phase == "wait":
                step.what, step.duration_s = "Drain and rest", 240
    db.flush()
    lots.set_ingredients(
        db,
        trial,
        [
            lots.Lot(name, lot, price_per_kg=Decimal(price), amounts={m.id: kg for m in trial.methods})
            for name, kg, price, lot in (
                ("dried chickpeas", 0.250, "2.90", "one sack, this year"),
                ("water", 1.2, "0.00", ""),
                ("salt", 0.006, "0.60", ""),
            )
        ],
    )
    lots.set_controls(
        trial,
        [
            ("pressure", "dial 2 on both, read 68 and 70 kPa gauge"),
            ("salt", "0.5 % of the water"),
            ("end", "crushes between two fingers, same tester"),
        ],
    )
    shift, plan = running_shift(db, trial, "Tonight", moment, SERVE_IN_MIN)
    log = Log(shift, lead, SEED)
    weigh = (-200.0, K.WEIGHT, {"kg": 0.250, "of": "raw"})
    stories = {
        "SO": Story(
            [weigh, (-190, K.WEIGHT, {"kg": 0.538, "of": "prepared"})],
            start_c=88,
            around_c=115,
            radius_m=0.006,
            h=900,
        ),
        "DR": Story(
            [weigh, (400, K.NOTE, {"text": "a little foam at the valve, turned down"})],
            start_c=84,
            around_c=114.5,
            radius_m=0.005,
            h=900,
        ),
    }
    until = moment.timestamp()
    for n, batch in enumerate(shift.batches):
        cook_batch(db, log, batch, plan, stories[batch.method.tag], until, SEED + n)
    log.write(db, until)
