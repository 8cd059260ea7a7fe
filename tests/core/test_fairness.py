"""Differences and what they sway, jobs, readiness, substitution, what was really done."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yeasty.core.ask.trial import Attribute, DoneRule, Fairness, TrialKind
from yeasty.core.cook.as_done import done_facts
from yeasty.core.cook.measures import measures
from yeasty.core.cook.problem import Chain, PlannedStep
from yeasty.core.kernel.entries import Entry, EntryKind
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.kernel.scales import Scale
from yeasty.core.kernel.steps import Attention, EndRule, Phase, Step
from yeasty.core.kernel.words import plain
from yeasty.core.setup.appliances import Appliance, Capacity, DialWord, capacity_for, check_appliance
from yeasty.core.setup.claimed import claim, claim_links, links, sentence, the_change
from yeasty.core.setup.composition import check_label, shares_of
from yeasty.core.setup.differences import MethodFacts, compare, differences
from yeasty.core.setup.job import job
from yeasty.core.setup.job import sentence as job_sentence
from yeasty.core.setup.readiness import checklist
from yeasty.core.setup.substitution import LotFacts, effects
from yeasty.core.setup.sways import Sway, check_sway, merged, pulls, shipped, weight

# Differences

COOK = Step("c", "Bake", Attention.FREE, Phase.COOK, 600, set_point_c=200)
REST = Step("r", "Rest", Attention.FREE, Phase.WAIT, 300)
BASE = MethodFacts(
    "OV",
    "Oven",
    0.36,
    0.06,
    20,
    {"oil": 0.01, "flour": 0.2, "salt": 0.004},
    (COOK, REST),
    vessel="baking sheet",
    lid="uncovered",
    place="middle shelf",
    operator="A",
    pieces=6,
    capacity=12,
)
ADDED = {
    "vessel": "glass dish",
    "lid": "lid on",
    "place": "top shelf",
    "operator": "B",
    "batch_kg": 0.5,
    "start_c": 4.0,
    "piece_kg": 0.09,
    "thickness_m": 0.05,
    "pieces": 24,
    "dealt_kg": 0.08,
}


@pytest.mark.parametrize("field", list(ADDED))
def test_a_difference_added_anywhere_is_found(field: str) -> None:
    plainly = replace(BASE, thickness_m=0.04, dealt_kg=0.06)
    found = {d.field for d in differences([plainly, replace(plainly, tag="AF", **{field: ADDED[field]})], [])}
    assert found
    assert found <= {
        "vessel",
        "lid",
        "place",
        "operator",
        "weight per batch",
        "start temperature",
        "weight of a piece",
        "thickness of a piece",
        "pieces",
        "rounds",
        "mean weight of the pieces dealt",
    }


@pytest.mark.parametrize(
    ("change", "field"),
    [
        (replace(COOK, end_rule=EndRule.CORE, end_core_c=93), "end rule"),
        (replace(COOK, set_point_c=210), "set point"),
        (replace(COOK, appliance="a"), "appliance"),
        (replace(COOK, attention=Attention.WATCHED), "watched steps"),
    ],
)
def test_a_step_that_differs_is_found(change: Step, field: str) -> None:
    other = replace(BASE, tag="AF", steps=(change, REST), appliances={"a": "Air fryer"})
    assert [d.field for d in differences([BASE, other], [])] == [field]


def test_words_and_units_that_say_the_same_are_no_difference() -> None:
    other = replace(
        BASE,
        tag="AF",
        vessel="Tray",
        lid="Lid off",
        place="Middle  shelf",
        batch_kg=0.7936641432 * 0.45359237,
    )
    assert differences([BASE, other], []) == []
    assert differences([BASE, other], [], System.US) == []
    assert plain("Stovetop") == plain("hob")


@given(st.permutations(range(4)))
def test_the_order_of_methods_does_not_matter(order: list[int]) -> None:
    arms = [
        replace(BASE, tag=t, vessel=v, start_c=c)
        for t, v, c in (("OV", "tin", 4), ("AF", "tray", 20), ("DF", "tin", 20), ("MW", "", 12))
    ]
    first = differences(arms, [])
    again = differences([arms[i] for i in order], [])
    assert [(d.field, d.signature, dict(d.values)) for d in first] == [
        (d.field, d.signature, dict(d.values)) for d in again
    ]


def test_totals_are_worked_out_and_not_told_twice() -> None:
    more = replace(BASE, tag="AF", amounts={**BASE.amounts, "salt": 0.006})
    assert [d.field for d in differences([BASE, more], [])] == ["amount of salt"]
    hidden = replace(BASE, tag="AF", labels={"flour": {"salt": 0.02}})
    assert [d.field for d in differences([BASE, hidden], [])] == ["total salt"]
    salted = replace(
        BASE,
        tag="AF",
        amounts={"oil": 0.01, "flour": 0.2, "salt": 0.003, "soy paste": 0.01},
        labels={"soy paste": {"salt": 0.1}},
    )
    assert {d.field for d in differences([BASE, salted], [])} == {"amount of salt", "amount of soy paste"}


def test_with_an_end_by_state_time_is_a_result() -> None:
    other = replace(BASE, tag="AF", steps=(replace(COOK, duration_s=900), REST))
    assert differences([BASE, other], [], done_rule=DoneRule.BY_STATE)[0].result
    assert not differences([BASE, other], [], done_rule=DoneRule.BY_CLOCK)[0].result


def test_when_two_things_change_and_one_is_credited_it_says_so() -> None:
    said = claim(
        TrialKind.CHAMPION,
        Fairness.SAME_RECIPE,
        DoneRule.BY_CLOCK,
        ["preparation"],
        ["amount of flour"],
        [],
        "preparation",
    )
    assert "Two things change" in said
    assert "not to the preparation alone" in said
    assert "nothing can be credited" in claim(
        TrialKind.GRID, Fairness.SAME_RECIPE, DoneRule.BY_CLOCK, ["rest"], [], ["lid"]
    )
    assert "as a whole" in claim(
        TrialKind.SIDE_BY_SIDE, Fairness.EACH_AT_ITS_BEST, DoneRule.BY_STATE, ["technique"], ["rest"], []
    )


def test_a_change_in_words_alone_is_no_chance_and_earns_no_credit() -> None:
    plain = (TrialKind.ONE_CHANGE, Fairness.SAME_RECIPE, DoneRule.BY_CLOCK, [], [], [])
    assert "chance" in claim(*plain)
    said = claim(*plain, change="a lid on")
    assert "“a lid on” is to differ" in said
    assert "chance" not in said
    assert "nothing that is written" not in claim(*plain[:3], ["lid"], [], [], change="a lid on")
    # What differs as a result does differ.
    assert "Nothing differs" in sentence([], 0, 0)
    assert "Nothing differs" not in sentence([], 0, 0, 1)


def test_versions_are_held_against_the_one_they_came_from() -> None:
    a, b = replace(BASE, tag="VA"), replace(BASE, tag="VB", lid="lid on")
    c = replace(b, tag="VC", vessel="tin", start_c=4)
    found = links([a, b, c], {"VB": "VA", "VC": "VB"})
    assert found == {"VB": ["lid"], "VC": ["start temperature", "vessel"]}
    assert the_change(found) == ["lid"]
    assert "VC changes two things at once" in claim_links(found)
    assert "differs in nothing" in claim_links({"VD": []})


def test_compositions_are_checked_and_looked_up() -> None:
    assert shares_of("whole milk")["liquid"] == 1.0  # type: ignore[index]
    assert shares_of("butter", {"fat": 0.6})["fat"] == 0.6  # type: ignore[index]
    for label in ({"fat": 0.8, "water": 0.4}, {"gold": 0.1}, {"fat": 1.5}):
        with pytest.raises(RuleError):
            check_label(label)


# What sways what


def test_a_difference_is_ordered_by_what_it_sways_and_never_hidden() -> None:
    crust = [Attribute("c", "Crust", Scale.INTENSITY, 3)]
    assert weight("vessel", crust, shipped()) > weight("rests", crust, shipped()) >= 0
    assert all((s.reason and s.status == "kitchen practice") or s.status == "conduction" for s in shipped())
    ours = merged([Sway("vessel", ("crust",), 0, "all our vessels are alike", "this kitchen")])
    assert pulls("vessel", crust, ours)[0].strength == 0
    assert pulls("vessel", [Attribute("u", "Underside", Scale.INTENSITY)], ours)[0].strength == 3
    assert pulls("amount of butter", [Attribute("l", "Liking", Scale.LIKING)], shipped())
    with pytest.raises(RuleError, match="strength"):
        check_sway("vessel", ["crust"], 7, "because")


def test_the_slow_appliance_may_win_on_the_whole_job() -> None:
    quick = job(
        [
            Step("a", "Heat the oil", Attention.WATCHED, Phase.COME_UP, 900),
            Step("b", "Fry", Attention.WATCHED, Phase.COOK, 360),
            Step("w", "Wash up", Attention.HANDS, Phase.WASH_UP, 840),
        ]
    )
    slow = job(
        [
            Step("a", "Bake", Attention.FREE, Phase.COOK, 1500),
            Step("w", "Wash up", Attention.HANDS, Phase.WASH_UP, 120),
        ]
    )
    assert "By cook time alone it would have seemed to be DF" in job_sentence({"DF": quick, "OV": slow})
    assert quick.watched_s == 1260
    ahead = job([Step("s", "Soak", Attention.FREE, Phase.PREPARE, 43200, days_before=1), COOK])
    assert (ahead.ahead_s, ahead.total_s) == (43200, 600)


def test_readiness_comes_from_steps_vessel_and_hazards() -> None:
    texts = [
        i.text
        for i in checklist(
            [replace(COOK, end_rule=EndRule.CORE, end_core_c=74)],
            ["sealed_skin", "hot_oil"],
            ["pressure_cooker"],
            "baking tray",
            "covered",
            ["radio off", "  "],
            ["Circuit B: two at once"],
        )
    ]
    for part in ("Skin pierced", "Vent shut", "Tray lined", "Lid on", "Probe in", "radio off", "Circuit B"):
        assert any(part in t for t in texts), part
    assert len(texts) == len(set(texts))


def test_another_lot_is_worked_out_not_just_noted() -> None:
    planned = LotFacts(
        "butter",
        grade="salted",
        label={"fat": 0.82, "salt": 0.012},
        allergens=["milk"],
        price_per_kg=8.0,
        age_days=2,
    )
    bought = LotFacts(
        "butter",
        grade="unsalted",
        label={"fat": 0.80},
        allergens=["milk", "soya"],
        price_per_kg=12.0,
        age_days=9,
    )
    found = effects(planned, bought, {"OV": 0.1}, ["AF"], 0.5)
    words = " ".join(e.text for e in found)
    assert [e.weight for e in found[:2]] == ["redo", "redo"]
    for part in (
        "not be cooked from one lot",
        "New allergen: soya",
        "Salt: 1.2 g less",
        "Grade salted",
        "Age 2",
        "Price × 1.50",
    ):
        assert part in words, part


def test_capacity_goes_with_size_and_dial_words_are_checked() -> None:
    a = Appliance(
        "a", "Fryer", "deep_fryer", capacity_pieces=6, capacities=(Capacity(0.05, 9), Capacity(0.1, 2))
    )
    assert capacity_for(a, 0.05)[0] == 9
    assert capacity_for(a, 0.03)[0] == 9
    assert capacity_for(a, 0.2)[0] == 1
    assert capacity_for(a, None) == (6, "as on its profile")
    wrong = replace(
        a,
        dial=(DialWord("low", 88, True), DialWord("Low"), DialWord("high", None, True)),
        capacities=(Capacity(2, 0),),
    )
    assert [e.field for e in check_appliance(wrong)] == ["dial", "dial, high", "capacity by size"]


# As it was done


def test_what_was_really_done_is_compared_and_departures_told() -> None:
    turn = Step("t", "Turn", Attention.HANDS, Phase.TURN, 30, during_offset_s=300)
    steps = (
        Step("l", "Load", Attention.HANDS, Phase.LOAD, 60),
        COOK,
        turn,
        Step("o", "Out", Attention.HANDS, Phase.OUT, 60),
        REST,
        Step("p", "Plate", Attention.HANDS, Phase.PLATE, 60),
    )
    at = {"l": (0, 60), "c": (60, 660), "t": (360, 390), "o": (660, 720), "r": (720, 1020), "p": (1020, 1080)}

    def cooked(tag: str, late: float, turned_it: bool, who: str) -> tuple[dict[str, object], list[str]]:
        chain = Chain(tag, tag, steps)
        plan = [PlannedStep(tag, k, a, b) for k, (a, b) in at.items()]
        facts = [
            (EntryKind.IN, "l", 60.0),
            (EntryKind.OUT, "o", 720.0 + late),
            (EntryKind.DONE, "p", 1080.0 + late),
        ]
        facts += [(EntryKind.TURNED, "t", 390.0)] if turned_it else []
        log = [
            Entry(f"{tag}{n}", tag, kind, when, "d", n, {"step": step})
            for n, (kind, step, when) in enumerate(facts)
        ]
        log.append(Entry(f"{tag}w", tag, EntryKind.WEIGHT, 10.0, "d", 90, {"kg": 0.36, "of": "raw"}))
        found, away = done_facts(chain, plan, log, measures(chain, plan, log), [who])
        return found, [d.what for d in away]  # type: ignore[return-value]

    a, none = cooked("OV", 0, True, "A")
    b, away = cooked("AF", 240, False, "B")
    assert none == []
    assert set(away) == {"cooking time", "turns"}
    fields = {d.field for d in compare({"OV": a, "AF": b}, [])}  # type: ignore[dict-item]
    assert {"cooking time", "turns", "operator"} <= fields
    assert "weight that went in" not in fields
