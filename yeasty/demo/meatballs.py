"""Turkey meatballs by three ways, in the middle of cooking: cores on the probe, one of them not read yet."""

from datetime import datetime
from decimal import Decimal

import numpy as np
from sqlalchemy.orm import Session

from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.heat.changing import Stage, heat_through
from yeasty.core.heat.conduction import Piece
from yeasty.core.kernel.entries import EntryKind as K
from yeasty.core.kernel.steps import Phase
from yeasty.demo.asked import ask, asks
from yeasty.demo.cooking import ENDS, Log, running_shift
from yeasty.operations.ask import designs, lots
from yeasty.store.ask.tables import Method
from yeasty.store.cook.queries import moment as at_moment
from yeasty.store.cook.tables import ProbeLogRow
from yeasty.store.kitchen.people_tables import Account
from yeasty.store.kitchen.tables import Appliance

SEED = 82_000
SERVE_IN_MIN = 9
CORE_C = 74.0
PIECE = Piece("sphere", 0.02)
# name, tag, technique, appliance, heat [s], set point [°C], rest [s]
WAYS = (
    ("Oven", "OV", "oven", "Oven", 1380, 200, 240),
    ("Deep fryer", "DF", "deep_fryer", "Deep fryer", 540, 165, 180),
    ("Air fryer", "AF", "air_fryer", "Air fryer", 840, 180, 180),
)
# What the food feels: surroundings [°C] and coefficient [W/m²K] that stand for evaporation at its surface.
FELT = {"OV": Stage(3600, 118, 30), "DF": Stage(3600, 103, 450), "AF": Stage(3600, 112, 55)}


def _tune(method: Method, heat_s: int, set_c: int, rest_s: int) -> None:
    for step in method.steps:
        if step.phase == "cook":
            step.duration_s, step.set_point_c, step.end_rule, step.end_core_c = heat_s, set_c, "core", CORE_C
            step.longest_s = round(1.25 * heat_s)
        elif step.phase == "come_up":
            step.set_point_c = set_c
        elif step.phase == "wait":
            step.duration_s = rest_s
        elif step.phase == "turn":
            step.during_offset_s = heat_s / 2


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account, moment: datetime) -> None:
    """The trial and its running shift, laid around `moment`."""
    trial = designs.new_trial(
        db,
        title="Turkey meatballs",
        dish="turkey meatballs",
        kind=TrialKind.SIDE_BY_SIDE,
        question="Which way browns turkey meatballs and keeps them juicy at the same core?",
    )
    trial.aliases, trial.food_class = "polpette, köfte", "poultry"
    trial.answer_rule = "Juiciness first, crust second, all read at 74 °C in the middle."
    trial.hunch, trial.matters, trial.pieces = "The air fryer browns, the fryer keeps them juicy.", 0.5, 12
    ask(db, trial, asks("Juiciness", 2.0, "dry", "juicy"), asks("Crust", 1.0, "pale, soft", "brown, crisp"))
    for name, tag, technique, appliance, heat, set_c, rest in WAYS:
        method = designs.add_method(db, trial, techniques()[technique], name, [appliances[appliance]])
        method.tag, method.pieces_per_batch, method.piece_kg, method.batch_kg, method.start_c = (
            tag,
            6,
            0.034,
            0.204,
            5.0,
        )
        method.piece_shape, method.piece_thickness_m, method.piece_food = "sphere", 0.04, "meatball_mix"
        _tune(method, heat, set_c, rest)
    db.flush()
    lots.set_ingredients(
        db,
        trial,
        [
            lots.Lot(n, lot, price_per_kg=Decimal(p), allergens=a, amounts={m.id: kg for m in trial.methods})
            for n, kg, p, a, lot in (
                ("turkey, minced", 0.150, "9.80", (), "one tray, cut today"),
                ("breadcrumbs", 0.022, "3.10", ("gluten",), ""),
                ("whole milk", 0.022, "1.15", ("milk",), ""),
                ("onion, grated", 0.008, "1.40", (), ""),
                ("salt", 0.002, "0.60", (), ""),
            )
        ],
    )
    lots.set_controls(
        trial,
        [
            ("mixture", "one bowl, rolled in one go"),
            ("core at the end", "74 °C, read in the middle of one piece"),
        ],
    )
    shift, plan = running_shift(db, trial, "This evening", moment, SERVE_IN_MIN)
    log, until = Log(shift, lead, SEED), moment.timestamp()
    rng = np.random.default_rng(SEED)
    for batch in shift.batches:
        steps = {s.key: s for s in batch.chain().steps}
        mine = sorted((p for p in plan if p.batch == str(batch.id)), key=lambda p: p.start)
        for n, p in enumerate(mine):
            step = steps[p.step]
            if step.attention.value == "hands":
                log.add(p.end, batch.id, ENDS.get(step.phase, K.DONE), {"step": p.step})
            elif n == 0:
                log.add(p.start, batch.id, K.STARTED, {"step": p.step})
        went_in = next(p.start for p in mine if steps[p.step].phase is Phase.COOK)
        log.add(went_in - 100, batch.id, K.WEIGHT, {"kg": 0.204, "of": "raw"})
        # There are two probes: nothing is read in the air fryer.
        times = np.arange(5.0, max(6.0, until - went_in), 5.0)
        if batch.method.tag == "AF" or len(times) < 3:
            continue
        core = heat_through(PIECE, [FELT[batch.method.tag]], times, 5.0, 0.46, 1.36e-7).centre_c + rng.normal(
            0, 0.2, len(times)
        )
        db.add(
            ProbeLogRow(
                batch_id=batch.id,
                name="bench probe",
                starts_at=at_moment(went_in),
                times_s=[float(t) for t in times],
                channels={"core": [round(float(c), 2) for c in core]},
                added_at=moment,
            )
        )
    log.write(db, until)
