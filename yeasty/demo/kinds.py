"""Trials of the other kinds: a challenger, a ladder, a grid, a screening of 16 ways, a chain of six, set up
and not yet cooked.
"""

import random
from decimal import Decimal
from typing import Any

from sqlalchemy.orm import Session

from yeasty.core.ask.screening import read_table
from yeasty.core.ask.techniques import techniques
from yeasty.core.ask.trial import TrialKind
from yeasty.core.kernel.steps import Attention, Phase, Step
from yeasty.core.setup.allocation import allocate
from yeasty.core.setup.places import VesselMap, dealt, fitting_places
from yeasty.demo.asked import ask, asks
from yeasty.operations.ask import designs, families, hazards, layouts, lots, versions
from yeasty.store.ask.tables import Ingredient, Method, MethodAmount, Trial
from yeasty.store.kitchen.people_tables import Account
from yeasty.store.kitchen.tables import Appliance
from yeasty.store.publish.guesses import add_guess
from yeasty.store.publish.promises import add_promise
from yeasty.store.publish.tables import Source
from yeasty.store.setup.queries import WeighedPiece, arms, keep_dealing, pieces_of, set_pieces
from yeasty.store.setup.tables import PlaceMap

SEED = 93_000


def _judged(db: Session, trial: Trial, *rows: tuple[str, float, str, str]) -> None:
    ask(db, trial, *(asks(*row) for row in rows))


def _lots(db: Session, trial: Trial, *rows: tuple[str, float, str, tuple[str, ...], str]) -> None:
    lots.set_ingredients(
        db,
        trial,
        [
            lots.Lot(
                n, lot, price_per_kg=Decimal(price), allergens=al, amounts={m.id: kg for m in trial.methods}
            )
            for n, kg, price, al, lot in rows
        ],
    )


def cauliflower(db: Session, appliances: dict[str, Appliance], lead: Account) -> Trial:
    """Florets in the air fryer: the champion is oiled only, the challenger is coated."""
    first = designs.new_trial(
        db,
        title="Cauliflower florets",
        dish="cauliflower florets",
        kind=TrialKind.SIDE_BY_SIDE,
        question="Which way browns florets without drying their stalks?",
    )
    first.aliases, first.food_class, first.matters = "roast cauliflower, popcorn florets", "plant", 0.5
    first.answer_rule = "Browning first, stalk second, within the half hour."
    _judged(db, first, ("Browning", 2.0, "pale", "brown all over"), ("Stalk", 1.0, "dry", "moist, tender"))
    for technique, name, tag in (("air_fryer", "Air fryer, oiled", "AF"), ("oven", "Oven, oiled", "OV")):
        m = designs.add_method(db, first, techniques()[technique], name, list(appliances.values()))
        m.tag, m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c, m.piece_thickness_m = (
            tag,
            0.4,
            16,
            0.025,
            18.0,
            0.035,
        )
        m.piece_shape, m.piece_food, m.vessel, m.lid = (
            "sphere",
            "cauliflower",
            "basket" if tag == "AF" else "tray",
            "lid off",
        )
    db.flush()
    _lots(
        db,
        first,
        ("cauliflower", 0.4, "2.40", (), "two heads of one crate"),
        ("rapeseed oil", 0.016, "3.20", (), ""),
        ("salt", 0.003, "0.60", (), ""),
    )
    designs.set_preparation(
        first,
        [
            Step("all-cut", "Cut florets of one size, stalks 2 cm", Attention.HANDS, Phase.PREPARE, 480),
            Step("all-dry", "Wash and let dry on a rack", Attention.FREE, Phase.WAIT, 600, longest_s=1800),
            Step("all-oil", "Toss all in oil and salt", Attention.HANDS, Phase.PREPARE, 90),
        ],
        [],
    )
    champion = next(m for m in first.methods if m.tag == "AF")
    champion.outcome = "brown in 15 min, stalks a little dry"
    trial = families.challenge(
        db,
        first,
        champion,
        change="coated in rice flour",
        aimed_defect="stalks a little dry",
        question="Does a thin coat of rice flour keep the stalks moist and still brown?",
    )
    trial.title = "Cauliflower florets, coated"
    challenger = trial.methods[1]
    challenger.name, challenger.tag = "Air fryer, rice-flour coat", "RC"
    challenger.steps.insert(
        0, designs.rows_of([_step("Toss in rice flour, shake off", 180)], lambda _: None)[0]
    )
    for position, step in enumerate(challenger.steps):
        step.position = position
    db.flush()
    _florets(db, trial, lead)
    return trial


def _step(what: str, seconds: float) -> Any:
    return Step("demo", what, Attention.HANDS, Phase.PREPARE, seconds)


def _florets(db: Session, trial: Trial, lead: Account) -> None:
    """Thirty-six florets weighed and dealt, a tray map drawn and dealt over its hot spots."""
    rng = random.Random(SEED)
    lot = trial.ingredients[0].id
    rows = [
        WeighedPiece(
            round(rng.gauss(0.025 if n < 20 else 0.023, 0.003), 4), "outer" if n < 20 else "inner", lot
        )
        for n in range(36)
    ]
    set_pieces(db, trial, rows)
    made = pieces_of(db, trial.id)
    draw = allocate([p.mass_kg for p in made], len(arms(trial)), SEED, 0.01, [p.part for p in made], each=16)
    keep_dealing(
        db,
        trial,
        {
            "groups": draw.groups,
            "spare": draw.spare,
            "seed": draw.seed,
            "tolerance": draw.tolerance,
            "sentence": draw.sentence(),
            "deviation": draw.deviation,
            "within": draw.within,
            "best_deviation": draw.best_deviation,
            "few": draw.few,
        },
    )
    tray = PlaceMap(
        trial_id=trial.id,
        position=0,
        name="Tray, lower shelf",
        kind="tray",
        width_m=0.38,
        depth_m=0.30,
        piece_m=0.035,
        spacing_m=0.02,
    )
    tray.spots = [{"x_m": 0.06, "y_m": 0.26, "k": 9.0}, {"x_m": 0.33, "y_m": 0.05, "k": -5.0}]
    m = VesselMap(**{**vars(tray.core()), "places": fitting_places(tray.core())})
    near = sorted(m.places, key=lambda p: (p.x_m - 0.19) ** 2 + (p.y_m - 0.15) ** 2)[:32]
    m = VesselMap(**{**vars(m), "places": tuple(near)})
    from yeasty.core.setup.places import heat_at

    heats = [heat_at(m, p.x_m, p.y_m) for p in m.places]
    places = allocate([100 + h - min(heats) for h in heats], 2, SEED, 0.01)
    laid = dealt(m, places.groups, [x.tag for x in trial.methods])
    tray.take(VesselMap(**{**vars(m), "places": laid.places}))
    tray.dealt_how = f"drawn balanced over hot spots, mean places within {laid.spread_k:.1f} K, seed {SEED}"
    db.add(tray)
    trial.serving_kg, trial.eaters = 0.12, 3
    trial.leftover_use = "soup for the next day"
    add_guess(
        db, trial, "Cook at the bench", trial.methods[1].id, "the coat holds the steam in", by_link=False
    )
    add_guess(db, trial, "", trial.methods[0].id, "flour only gets gummy", by_link=True)
    add_promise(
        db,
        "Try it again with chickpea flour in place of rice flour",
        Source.OWN,
        dish=trial.dish,
        trial_id=trial.id,
        by=lead.person_id,
    )
    add_promise(db, "Would frozen florets work as well?", Source.READER, dish=trial.dish, trial_id=trial.id)


def beetroot(db: Session, appliances: dict[str, Appliance]) -> Trial:
    """Wedges from one pressure cooker's basket at rising times, past the right one."""
    trial = designs.new_trial(
        db,
        title="Beetroot wedges under pressure",
        dish="beetroot wedges",
        kind=TrialKind.LADDER,
        question="How long under pressure until a wedge is tender and its edge still stands?",
    )
    trial.aliases, trial.food_class, trial.matters = "pressure beets", "plant", 0.5
    trial.answer_rule = "The shortest time at which the bite is tender, with its range."
    _judged(db, trial, ("Tenderness", 2.0, "hard", "tender"), ("Edge", 1.0, "ragged", "stands"))
    m = designs.add_method(db, trial, techniques()["pressure_cooker"], "Pressure", list(appliances.values()))
    m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c, m.piece_thickness_m = 0.24, 4, 0.06, 18.0, 0.03
    m.piece_shape, m.piece_food, m.vessel, m.lid = "slab", "beetroot", "basket", "lid on"
    layouts.lay_out(
        db,
        trial,
        {
            "rises": "time",
            "rungs": [360.0, 540.0, 720.0, 900.0, 1080.0, 1320.0],
            "guess": 720.0,
            "pots": 6,
            "pieces_a_rung": 4,
            "pull_s": 45.0,
        },
        techniques(),
        list(appliances.values()),
    )
    _lots(
        db,
        trial,
        ("beetroot", 0.24, "1.80", (), "one net, 60 to 70 mm across"),
        ("water", 0.35, "0.00", (), ""),
    )
    return trial


def meatball_grid(db: Session, appliances: dict[str, Appliance]) -> Trial:
    """Pre-cook by finish, with too few pieces for every cell twice."""
    trial = designs.new_trial(
        db,
        title="Turkey meatballs, pre-cook × finish",
        dish="turkey meatballs",
        kind=TrialKind.GRID,
        question="Does a pre-cook keep meatballs juicy, and does that depend on the finish?",
    )
    trial.aliases, trial.food_class, trial.matters = "polpette", "poultry", 0.5
    trial.answer_rule = "Juiciness at 74 °C in the middle; crust decides a tie."
    _judged(db, trial, ("Juiciness", 2.0, "dry", "juicy"), ("Crust", 1.0, "pale, soft", "brown, crisp"))
    m = designs.add_method(db, trial, techniques()["oven"], "Oven", list(appliances.values()))
    m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c, m.piece_thickness_m = 0.204, 6, 0.034, 5.0, 0.04
    m.piece_shape, m.piece_food, m.vessel = "sphere", "meatball_mix", "tray"
    layouts.lay_out(
        db,
        trial,
        {
            "factors": [
                {
                    "name": "pre-cook",
                    "levels": [
                        {"name": "none"},
                        {"name": "steamed 6 min", "technique": "steamer", "sets": {"cook_s": 360}},
                        {"name": "microwaved 2 min", "technique": "microwave", "sets": {"cook_s": 120}},
                    ],
                },
                {
                    "name": "finish",
                    "levels": [
                        {
                            "name": "oven 200",
                            "technique": "oven",
                            "sets": {"cook_s": 900, "set_point_c": 200},
                        },
                        {
                            "name": "air fryer 180",
                            "technique": "air_fryer",
                            "sets": {"cook_s": 600, "set_point_c": 180},
                        },
                    ],
                },
            ],
            "barred": [],
            "pieces_a_cell": 6,
            "replicates": 1,
            "pieces_at_hand": 40,
            "cookings_a_shift": 3,
        },
        techniques(),
        list(appliances.values()),
    )
    _lots(
        db,
        trial,
        ("turkey, minced", 0.150, "9.80", (), "one tray"),
        ("breadcrumbs", 0.022, "3.10", ("gluten",), ""),
        ("whole milk", 0.022, "1.15", ("milk",), ""),
        ("onion, grated", 0.008, "1.40", (), ""),
        ("salt", 0.002, "0.60", (), ""),
    )
    return trial


PUDDINGS = """Milk from the start, stirred often; hob, boil; creamy, stuck a little
Milk from the start, left alone; hob, boil; skin, grains split
Rice boiled first, milk after; hob, boil; loose
Rice toasted in butter first; hob, boil; nutty
Soaked an hour, cold milk; hob, boil;
Pressure, milk and water; pressure cooker; foams
Pressure, water only, milk after; pressure cooker; clean, quick
Oven, shallow dish; oven; brown skin
Oven, deep dish, lid on; braise; thick
Water bath in a jar; water bath; even, plain
Slow cooker, low; slow cooker; thick edge
Steamed in cups; steamer; firm
Microwave, in bursts; microwave; boiled over once
Baked in the toaster oven; toaster oven; strong skin
Cold pan, covered; cold pan; stuck
Fan oven, stirred once; fan oven; light skin"""
WORDS = (
    "good",
    "weak",
    "fair",
    "better than any yet",
    "fair",
    "weak",
    "good",
    "good",
    "fair",
    "fair",
    "weak",
    "leave it",
    "weak",
    "fair",
    "leave it",
    "good",
)


# Rice is done long before the beans for which a slow cooker is usually set [s].
LOW_AND_SLOW_S = 3.5 * 3600


def rice_pudding(db: Session, appliances: dict[str, Appliance]) -> Trial:
    """Sixteen ways, one word each."""
    trial = designs.new_trial(
        db,
        title="Rice pudding, 16 ways",
        dish="rice pudding",
        kind=TrialKind.SCREENING,
        question="Which few ways to a creamy pudding are worth a closer trial?",
    )
    trial.aliases, trial.food_class, trial.pieces = "kheer, arroz con leche, milk rice", "plant", 4
    known = {k: t.name for k, t in techniques().items()}
    versions.add_ways(
        db, trial, read_table(PUDDINGS, known), techniques(), list(appliances.values()), "hob_boil"
    )
    for m, word in zip(trial.methods, WORDS, strict=True):
        m.verdict_word, m.verdict_note, m.change = word, m.change, ""
        m.batch_kg, m.pieces_per_batch = 0.6, 4
        if m.technique == "slow_cooker":
            hazards.strike_hazard(trial, m, "pulses_boil", "rice and milk: there are no pulses in it")
            next(s for s in m.steps if s.phase == "cook").duration_s = LOW_AND_SLOW_S
    _lots(
        db,
        trial,
        ("whole milk", 0.5, "1.15", ("milk",), "one day"),
        ("pudding rice", 0.06, "2.90", (), "one sack"),
        ("sugar", 0.04, "1.10", (), ""),
    )
    return trial


CHAIN = (
    ("rested 30 min", "tears when rolled", "rolls out, but puffs in one place only"),
    ("hotter griddle, 230 °C", "puffs in one place only", "puffs, bitter spots"),
    ("turned after 40 s", "bitter spots", "even, a little dry at the rim"),
    ("5 % more water", "dry at the rim", "soft all over, sticks to the pin"),
    ("a spoon of oil in the dough", "sticks to the pin", "soft, rolls clean; folds next day still"),
)


def flatbread(db: Session, appliances: dict[str, Appliance]) -> Trial:
    """Six versions of a flatbread, each curing the defect of the last."""
    trial = designs.new_trial(
        db,
        title="Flatbread dough, six versions",
        dish="flatbread",
        kind=TrialKind.CHAIN,
        question="Which version rolls thin, puffs whole and still folds the next day?",
    )
    trial.aliases, trial.food_class, trial.matters = "griddle bread, pan bread", "baked", 0.5
    trial.answer_rule = "It puffs whole and folds without cracking the next day."
    _judged(db, trial, ("Puff", 2.0, "flat", "whole"), ("Fold", 2.0, "cracks", "folds"))
    m: Method = designs.add_method(
        db, trial, techniques()["griddle"], "Flour, water, salt", list(appliances.values())
    )
    m.batch_kg, m.pieces_per_batch, m.piece_kg, m.start_c, m.vessel, m.tag = (
        0.34,
        4,
        0.085,
        22.0,
        "griddle",
        "VA",
    )
    m.outcome = "tears when rolled"
    db.flush()
    _lots(
        db,
        trial,
        ("wheat flour, white", 0.2, "1.10", ("gluten",), "mill lot 12"),
        ("water", 0.13, "0.00", (), ""),
        ("salt", 0.004, "0.60", (), ""),
    )
    flour = {i.name: i for i in trial.ingredients}
    for n, (change, defect, outcome) in enumerate(CHAIN):
        m = versions.add_version(db, trial, m, name=f"Version {n + 2}", change=change, aimed_defect=defect)
        m.outcome, m.tag = outcome, "VBVCVDVEVF"[2 * n : 2 * n + 2]
        if n == 0:
            m.steps.insert(0, designs.rows_of([_rest()], lambda _: None)[0])
        for position, step in enumerate(m.steps):
            step.position = position
            if n == 1 and step.phase in ("come_up", "cook"):
                step.set_point_c = 230
            if n == 2 and step.phase == "turn":
                step.during_offset_s = 40
            if n == 2 and step.phase == "cook":
                step.duration_s = max(step.duration_s, 120)
        for a in m.amounts:
            if n == 3 and a.ingredient_id == flour["water"].id:
                a.mass_kg = 0.14
        db.flush()
    oil = Ingredient(
        trial_id=trial.id, name="rapeseed oil", position=3, allergens=[], price_per_kg=Decimal("3.20")
    )
    trial.ingredients.append(oil)
    db.flush()
    m.amounts.append(MethodAmount(ingredient_id=oil.id, mass_kg=0.008))
    m.failed_tries = 1
    m.outcome = "try 1 failed: oil forgotten; then: " + m.outcome
    trial.varied = []
    return trial


def _rest() -> Any:
    from yeasty.core.kernel.steps import Attention, Phase, Step

    return Step("rest", "Rest the dough, covered", Attention.FREE, Phase.PREPARE, 1800)


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account) -> None:
    """All five, and a lot that one trial's by-product became."""
    meatball_grid(db, appliances)
    rice_pudding(db, appliances)
    beetroot(db, appliances)
    bread = flatbread(db, appliances)
    trial = cauliflower(db, appliances, lead)
    db.flush()
    families.by_product(db, trial.methods[0], trial, bread, "cauliflower stalks, grated")
