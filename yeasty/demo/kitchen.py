"""The demo kitchen: sign-ins, appliances, circuits, and its three trials."""

from decimal import Decimal

from sqlalchemy.orm import Session

from yeasty.api.kitchen.accounts import hasher
from yeasty.demo import buns, chickpeas, evenings, kinds, meatballs, told
from yeasty.demo.sign_ins import COOK, LEAD
from yeasty.store.base import now
from yeasty.store.kitchen.people import add_account
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.kitchen.tables import Appliance, Circuit


def _appliances() -> tuple[Appliance, ...]:
    """What the demo kitchen cooks with; rows of a new kitchen each time."""
    return (
        Appliance(
            name="Oven",
            kind="oven",
            input_w=3000,
            rated_w=2600,
            offset_k=-12,
            capacity_pieces=12,
            circuit="A",
            spot="",
            notes="Set 200, the middle reads 188; the back left runs hotter.",
        ),
        Appliance(
            name="Air fryer",
            kind="air_fryer",
            input_w=1700,
            rated_w=1500,
            offset_k=6,
            capacity_pieces=6,
            circuit="B",
            notes="Six buns without touching.",
            capacities=[{"piece_m": 0.035, "pieces": 18}, {"piece_m": 0.05, "pieces": 6}],
        ),
        Appliance(
            name="Deep fryer",
            kind="deep_fryer",
            input_w=1800,
            rated_w=1700,
            offset_k=-4,
            capacity_pieces=6,
            circuit="B",
            notes="3 litres of rapeseed oil; 15 min to 170.",
        ),
        Appliance(
            name="Pressure cooker, 6 l",
            kind="pressure_cooker",
            input_w=1000,
            rated_w=900,
            capacity_pieces=6,
            circuit="C",
            notes="Dial 2 reads 70 kPa gauge on the test gauge.",
        ),
        Appliance(
            name="Pressure cooker, 5 l",
            kind="pressure_cooker",
            input_w=900,
            rated_w=800,
            capacity_pieces=6,
            circuit="A",
            notes="Dial 2 reads 68 kPa gauge on the test gauge.",
        ),
        Appliance(
            name="Microwave",
            kind="microwave",
            input_w=1250,
            rated_w=800,
            measured_w=700,
            capacity_pieces=6,
            circuit="C",
            notes="Measured with a litre of water, three runs.",
        ),
        Appliance(name="Hob, four rings", kind="hob", input_w=7200, rated_w=6800, circuit="D"),
        Appliance(
            name="Slow cooker",
            kind="slow_cooker",
            input_w=210,
            rated_w=200,
            circuit="C",
            notes="Low takes three hours to settle.",
            dial=[
                {"word": "low", "celsius": 88.0, "measured": True},
                {"word": "high", "celsius": 96.0, "measured": True},
                {"word": "warm", "celsius": None, "measured": False},
            ],
        ),
    )


def lay_out(db: Session) -> None:
    """Write the demo. The half-cooked trial is laid around this moment, so that its bench is alive."""
    kitchen = the_kitchen(db)
    kitchen.name, kitchen.price_per_kwh = "Long Table test kitchen (made up)", Decimal("0.28")
    lead = add_account(
        db, name="Lead of the kitchen", login=LEAD[0], password_hash=hasher.hash(LEAD[1]), role=Role.LEAD
    )
    add_account(
        db, name="Cook at the bench", login=COOK[0], password_hash=hasher.hash(COOK[1]), role=Role.COOK
    )
    appliances = {}
    for a in _appliances():
        db.add(a)
        appliances[a.name] = a
    db.flush()
    db.refresh(kitchen)
    db.add_all(
        Circuit(name=n, breaker_a=a, voltage_v=230, base_w=b)
        for n, a, b in (("A", 20, 100), ("B", 20, 0), ("C", 16, 150), ("D", 32, 0))
    )
    moment = now()
    evenings.lay_out(db, appliances, lead, moment)
    kinds.lay_out(db, appliances, lead)
    evenings.look_at_many(db, lead, moment)
    buns.lay_out(db, appliances, lead, moment)
    chickpeas.lay_out(db, appliances, lead, moment)
    meatballs.lay_out(db, appliances, lead, moment)
    told.lay_out(db, lead)
