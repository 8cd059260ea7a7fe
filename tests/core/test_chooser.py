"""Which one tonight: by time, waiting, gear and pieces; what is not known never counts as fitting."""

from typing import Any

from yeasty.core.publish.chooser import appliances_of, tonight


def recipe(tag: str, pieces: int, *appliances: str, technique: str = "") -> dict[str, Any]:
    return {
        "tag": tag,
        "pieces": pieces,
        "technique": technique,
        "steps": [{"appliance": a} for a in appliances],
    }


def way(tag: str, name: str, **values: float) -> dict[str, Any]:
    return {"tag": tag, "name": name, "values": {k: (v,) for k, v in values.items()}}


RECORD = {
    "recipes": [recipe("OV", 12, "oven", ""), recipe("AF", 6, "air_fryer"), recipe("BR", 12, "hob", "oven")],
    "ways": [
        way("OV", "Oven", total_s=3000, can_wait_s=1200),
        way("AF", "Air fryer", total_s=1500, can_wait_s=300),
        way("BR", "Browned", total_s=3600),
    ],
}


def fitting(said: dict[str, str], have: tuple[str, ...] = ()) -> dict[str, str]:
    found = tonight(RECORD, said, have)
    assert found.wrong == ""
    return {
        f.name: "fits" + (f", {f.note}" if f.note else "") if f.fits else "; ".join(f.why_not)
        for f in found.fits
    }


def test_nothing_said_is_nothing_answered() -> None:
    assert tonight(RECORD, {}).fits == ()
    assert tonight(RECORD, {"total_s": "  "}, ("torch",)).fits == (), "what no way here needs is no answer"


def test_what_the_kitchen_lacks_is_named_and_any_gear_fits_where_none_was_said() -> None:
    assert appliances_of(RECORD) == ["air_fryer", "hob", "oven"]
    told = fitting({}, ("oven",))
    assert told == {"Oven": "fits", "Air fryer": "needs air fryer", "Browned": "needs hob"}
    assert fitting({}, ("oven", "hob"))["Browned"] == "fits"
    assert set(fitting({"total_s": "100"}).values()) == {"fits"}


def test_what_no_step_was_given_is_needed_by_its_technique() -> None:
    fried = {
        "recipes": [recipe("GR", 8, "", technique="griddle"), recipe("OV", 8, "oven", technique="oven")],
        "ways": [way("GR", "Griddle", total_s=600), way("OV", "Oven", total_s=900)],
    }
    assert [f.why_not for f in tonight(fried, {}, ("oven",)).fits] == [["needs griddle"], []]


def test_guests_who_are_late_need_a_dish_that_was_measured_to_wait() -> None:
    told = fitting({"can_wait_s": "15"})
    assert told["Oven"] == "fits"
    assert "5 min" in told["Air fryer"]
    assert "not measured" in told["Browned"]


def test_more_pieces_than_a_batch_holds_are_rounds_and_their_time_was_not_measured() -> None:
    told = fitting({"for": "12"})
    assert told["Oven"] == "fits"
    assert told["Air fryer"] == "fits, 6 at a time: 2 rounds"
    late = fitting({"for": "12", "total_s": "55"})
    assert late["Oven"] == "fits"
    assert "how long so many take was not measured" in late["Air fryer"]


def test_what_is_no_number_is_told_by_its_name_and_nothing_is_chosen() -> None:
    for typed, name in (
        ({"total_s": "soon"}, "start to clean"),
        ({"for": "a lot"}, "Pieces"),
        ({"can_wait_s": "-3"}, "wait"),
    ):
        found = tonight(RECORD, typed)
        assert found.fits == ()
        assert name in found.wrong
        assert found.said == typed
