"""What was cooked, tasted and decided on made-up evenings: one finished trial for a kind of question."""

from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.core.ask.deciding import School
from yeasty.core.ask.trial import TrialKind
from yeasty.demo.evening import PEOPLE, Ask, Evening, cook_once, finish
from yeasty.operations.decide.analysis import analyse
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Account, Person
from yeasty.store.kitchen.tables import Appliance

EVENINGS = (
    Evening(
        "Beetroot in the steamer, how long",
        "beetroot wedges",
        TrialKind.LADDER,
        "How long must wedges steam until they are tender and their edge still stands?",
        "The point at which the bite is best, with its range.",
        (("steamer", "Steamer", "ST"),),
        (Ask("Bite", 1.0, "hard or mushy", "tender, edge stands", (2.2, 4.6, 6.6, 7.6, 7.4, 5.6)),),
        {
            "rises": "time",
            "rungs": [900.0, 1200.0, 1500.0, 1800.0, 2100.0, 2400.0],
            "guess": 1800.0,
            "pots": 1,
            "pieces_a_rung": 4,
            "pull_s": 45.0,
        },
        counted=("tender", 4, (0, 0, 2, 4, 4, 4)),
        lots={"beetroot": (0.238, ()), "salt": (0.002, ())},
    ),
    Evening(
        "Flatbread, rested or not",
        "flatbread",
        TrialKind.ONE_CHANGE,
        "Does half an hour under a cloth make a flatbread softer, or is it waiting for nothing?",
        "Softness; the wait must be worth a point.",
        (("griddle", "Rolled at once", "AT"), ("griddle", "After half an hour", "HH")),
        (Ask("Softness", 2.0, "tough", "soft", (4.4, 7.0)), Ask("Blisters", 1.0, "few", "many", (5.2, 5.8))),
        turned={"with butter": (3.6, -1.4)},
        guess=True,
        rests={1: 1800.0},
        days=2,
        matters=1.0,
        change="half an hour under a cloth",
        lots={"wheat flour": (0.14, ("gluten",)), "water": (0.09, ()), "salt": (0.003, ())},
        food="baked",
    ),
    Evening(
        "Cauliflower, a new coat against the old",
        "cauliflower florets",
        TrialKind.CHAMPION,
        "Does semolina in the coat beat plain rice flour?",
        "The title goes to a coat that is ahead by a point.",
        (("air_fryer", "Rice flour", "RF"), ("air_fryer", "Rice flour and semolina", "SE")),
        (
            Ask("Crackle", 2.0, "leathery", "crackles", (7.2, 7.4)),
            Ask("Stalk", 1.0, "dry", "moist", (6.6, 6.5)),
        ),
        parts={"crust": 0, "stalk": 1},
        days=2,
        matters=1.0,
        lots={"cauliflower": (0.2, ()), "flour of the coat": (0.03, ("gluten",)), "water": (0.02, ())},
    ),
    Evening(
        "Beetroot wedges, oil by heat",
        "beetroot wedges",
        TrialKind.GRID,
        "Which matters more for a brown edge: how hot, or whether it is oiled?",
        "Browning first.",
        (("oven", "Oven", "OV"),),
        (Ask("Edge", 1.0, "pale", "brown, sticky", (3.0, 4.6, 5.2, 5.4, 7.2, 8.0)),),
        {
            "factors": [
                {"name": "oil", "levels": [{"name": "none"}, {"name": "a spoon"}]},
                {
                    "name": "heat",
                    "levels": [
                        {"name": "180 °C", "sets": {"set_point_c": 180}},
                        {"name": "200 °C", "sets": {"set_point_c": 200}},
                        {"name": "220 °C", "sets": {"set_point_c": 220}},
                    ],
                },
            ],
            "barred": [],
            "pieces_a_cell": 4,
            "replicates": 1,
            "cookings_a_shift": 6,
        },
        labels=True,
        lots={"beetroot": (0.236, ()), "rapeseed oil": (0.01, ())},
    ),
    Evening(
        "Flatbread, flour of three mills",
        "flatbread",
        TrialKind.VARIETIES,
        "Which mill's flour makes the softer bread, to somebody who cooks and tastes alone?",
        "What I would buy again, if I can tell them apart at all.",
        (("griddle", "Flatbread", "FB"),),
        (
            Ask("Softness", 2.0, "tough", "soft", (5.0, 7.6, 6.8)),
            Ask("Taste", 1.0, "flat", "nutty", (4.4, 6.6, 6.4)),
        ),
        {"ingredient": "wheat flour", "varieties": ["River mill", "Hill mill", "Stone mill"]},
        days=2,
        people=1,
        matters=1.0,
        alone=True,
        shows={2: "a little darker"},
        lots={"wheat flour": (0.14, ("gluten",)), "water": (0.09, ()), "salt": (0.003, ())},
        food="baked",
    ),
    Evening(
        "Cauliflower, three finishes of one tray",
        "cauliflower florets",
        TrialKind.BRANCH,
        "One tray from the oven: what is worth doing to it at the end?",
        "Liking, by those who would eat it.",
        (("oven", "Oven", "OV"),),
        (Ask("Liking", 1.0, "leave it", "more of it", (5.4, 7.8, 5.8)),),
        {
            "finishes": [
                {"name": "as it is"},
                {"name": "lemon and oil, tossed"},
                {"name": "chopped dill on top"},
            ]
        },
        days=2,
        people=6,
        lots={"cauliflower": (0.23, ()), "rapeseed oil": (0.008, ()), "salt": (0.002, ())},
    ),
    Evening(
        "Flatbread that folds the next day, four versions",
        "flatbread",
        TrialKind.CHAIN,
        "What has to change until a flatbread still folds the next day?",
        "It folds without a crack; softness decides.",
        (("griddle", "Version 1", "V1"),),
        (Ask("Fold", 1.0, "cracks", "folds", (3.0, 4.6, 6.8, 7.4)),),
        versions=(
            ("dough rests half an hour", "tears when rolled", "rolls thin; cracks the next day", 0),
            ("a tenth more water", "cracks the next day", "folds; sticks to the pin", 1),
            ("a spoon of oil", "sticks to the pin", "folds, rolls clean", 2),
        ),
        amounts={2: {"water": 0.099}, 3: {"water": 0.099, "rapeseed oil": 0.01}},
        rests={1: 1800.0, 2: 1800.0, 3: 1800.0},
        days=2,
        people=6,
        lots={
            "wheat flour": (0.14, ("gluten",)),
            "water": (0.09, ()),
            "salt": (0.003, ()),
            "rapeseed oil": (0.001, ()),
        },
        food="baked",
    ),
    Evening(
        "Chickpeas, crisped three ways",
        "chickpeas",
        TrialKind.SIDE_BY_SIDE,
        "Which way of crisping cooked chickpeas is worth the washing-up?",
        "Crackle and taste alike; half a point is no reason to buy a machine.",
        (("oven", "Oven", "OV"), ("air_fryer", "Air fryer", "AF"), ("griddle", "Griddle", "GR")),
        (
            Ask("Crackle", 1.0, "leathery", "crackles", (7.0, 7.1, 6.9)),
            Ask("Taste", 1.0, "flat", "nutty", (6.6, 6.6, 6.7)),
        ),
        school=School.NO_WINNER,
        purposes=("for a tray full, for a crowd", "for a handful, on a weeknight", "where there is no oven"),
        days=2,
        people=6,
        lots={"chickpeas, cooked": (0.23, ()), "rapeseed oil": (0.008, ()), "salt": (0.002, ())},
    ),
    Evening(
        "Cauliflower, which keeps its weight",
        "cauliflower florets",
        TrialKind.SIDE_BY_SIDE,
        "Which way keeps most of what was bought?",
        "The scale alone; nobody has to taste.",
        (("steamer", "Steamer", "ST"), ("oven", "Oven", "OV"), ("air_fryer", "Air fryer", "AF")),
        (),
        days=2,
        kept=(0.95, 0.74, 0.70),
        claim="cooked_yield",
        claimed=(("cooked_yield", 0, None), ("cooked_yield", 0, 2)),
        purposes=("for a purée, or to dress cold", "for a tray full", ""),
    ),
)


# Still at the table when the program starts: one waits for tasters, one for its codes to be opened.
AT_THE_TABLE = (
    Evening(
        "Flatbread, pan or griddle",
        "flatbread",
        TrialKind.SIDE_BY_SIDE,
        "Is a griddle worth its place for flatbread, or does a pan do as well?",
        "Softness and blisters; half a point is no reason to buy a griddle.",
        (("pan", "Pan", "PN"), ("griddle", "Griddle", "GR")),
        (Ask("Softness", 2.0, "tough", "soft", (6.2, 6.8)), Ask("Blisters", 1.0, "few", "many", (5.0, 6.6))),
        people=5,
        lots={"wheat flour": (0.14, ("gluten",)), "water": (0.09, ()), "salt": (0.003, ())},
        food="baked",
        here=3,
    ),
    Evening(
        "Beetroot, roasted or boiled",
        "beetroot wedges",
        TrialKind.SIDE_BY_SIDE,
        "Are wedges sweeter from the oven, or is that the colour speaking?",
        "Sweetness first, then the bite.",
        (("oven", "Roasted", "RO"), ("hob_boil", "Boiled", "BO")),
        (
            Ask("Sweetness", 2.0, "flat", "sweet", (7.2, 6.0)),
            Ask("Bite", 1.0, "hard or mushy", "tender, edge stands", (6.4, 6.2)),
        ),
        people=4,
        lots={"beetroot": (0.238, ()), "salt": (0.002, ())},
        here=4,
    ),
)
SERVED_AGO = timedelta(minutes=75)


def lay_out(db: Session, appliances: dict[str, Appliance], lead: Account, moment: datetime) -> None:
    """All of them, each some days before `moment`."""
    people = [Person(name=name) for name in PEOPLE]
    db.add_all(people)
    db.flush()
    for n, evening in enumerate(EVENINGS):
        at = moment - timedelta(days=9 + 3 * n)
        finish(db, evening, appliances, (lead, people), at, 81_000 + 100 * n)
    for n, evening in enumerate(AT_THE_TABLE):
        finish(db, evening, appliances, (lead, people), moment - SERVED_AGO, 87_000 + 100 * n)


# Of the many ways so many were cooked, two an evening; what is left was judged from memory.
COOKED, AN_EVENING = 12, 2


def look_at_many(db: Session, lead: Account, moment: datetime) -> None:
    """The log of a first look at many ways: one cooking each."""
    trial = db.scalars(select(Trial).where(Trial.kind == TrialKind.SCREENING.value)).one()
    for n in range(0, COOKED, AN_EVENING):
        at = (moment - timedelta(days=60 - n)).replace(hour=18, minute=30, second=0, microsecond=0)
        named = (f"Evening {n // AN_EVENING + 1}", 1, 90_000 + 100 * n)
        cook_once(db, trial, trial.methods[n : n + AN_EVENING], lead, at, named)
    db.flush()
    analyse(db, trial.id)
