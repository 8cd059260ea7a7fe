"""Pages of the demo: one of every kind, each from a finished trial of that kind."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from yeasty.operations.decide.analysis import analyse
from yeasty.operations.publish.pages import draft_of, publish
from yeasty.store.ask.queries import whole_trial
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Account

MADE_UP = "Appliances were bought by the kitchen. Everything in this demo is made up."
# Trial to the words that its lead wrote.
PAGES: dict[str, dict[str, str]] = {
    "Beetroot in the steamer, how long": {
        "title": "Beetroot wedges from the steamer: how long",
        "intro": "Wedges of three centimetres, peeled, in one layer.",
        "serving": "Warm, with something sharp.",
    },
    "Flatbread, rested or not": {
        "title": "Flatbread: does the rest matter?",
        "intro": "A plain dough of flour, water and salt, rolled by hand.",
        "keeping": "Best at once; under a cloth it stays soft for an hour.",
    },
    "Cauliflower, a new coat against the old": {
        "title": "Crisp cauliflower: the coat that stays",
        "intro": "Florets of one size, dipped, shaken off and laid apart.",
    },
    "Beetroot wedges, oil by heat": {
        "title": "Browned beetroot: what matters",
        "intro": "Two things were varied together: oil, and how hot the oven is.",
    },
    "Flatbread, flour of three mills": {
        "title": "Flour for flatbread: which to buy",
        "intro": "One dough, three flours, one cook who also tasted.",
    },
    "Cauliflower, three finishes of one tray": {
        "title": "Roast cauliflower, and what to do to it at the end",
        "intro": "One tray from the oven; the finish is yours to choose.",
    },
    "Flatbread that folds the next day, four versions": {
        "title": "A flatbread that still folds tomorrow",
        "intro": "Four versions, each with one thing changed.",
        "keeping": "In a closed tin at room temperature until the next day.",
        "lessons": "One thing changed at a time: what two of them do together was not tried.",
        "linked": "flour-for-flatbread-which-to-buy\nflatbread-does-the-rest-matter",
    },
    "Chickpeas, crisped three ways": {
        "title": "Crisp chickpeas: which way tonight",
        "intro": "Cooked chickpeas, dried well on a cloth before anything else.",
    },
    "Cauliflower, which keeps its weight": {
        "title": "Cauliflower: which way keeps its weight",
        "intro": "Weighed before and after, with nothing else judged.",
    },
    "Rice pudding, 16 ways": {
        "title": "Rice pudding, every way we tried",
        "intro": "A first look at many ways, one cooking each, judged in a word.",
    },
}


def lay_out(db: Session, lead: Account) -> None:
    """A page out of each."""
    for title, texts in PAGES.items():
        found = db.scalars(select(Trial).where(Trial.title == title)).one()
        analyse(db, found.id)
        trial = whole_trial(db, found.id)
        if trial is None:
            raise LookupError(title)
        draft = draft_of(db, trial)
        draft.texts = {**texts, "disclosure": MADE_UP}
        publish(db, trial, draft, correction="", by=lead.person_id)
