"""Every kind of question, answered on two phones and typed in from paper, from laying to what it tells."""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import BrowserContext, Page, expect

from tests.e2e.conftest import Served, sign_in
from tests.e2e.hands import cook, pick, send, trial_with_shift
from tests.e2e.test_tasters import PHONE, may_eat
from yeasty.core.taste.tests import TESTS

AT_TWICE_THE_SIZE = """() => {
  const root = document.documentElement
  root.style.fontSize = '200%'
  const width = root.scrollWidth
  root.style.fontSize = ''
  return width
}"""
Context = Callable[..., BrowserContext]


def lay(page: Page, trial: dict[str, Any]) -> dict[str, Any]:
    """A round of every kind on two batches each, for two with phones and one on paper."""
    there = send(page, "GET", f"/trials/{trial['id']}/tastings")["candidates"]
    asked = trial["attributes"][0]["id"]
    settings = {"directed_pair": {"attribute": asked}, "guess_one": {"label": there[0]["method_id"]}}
    rounds = [
        {
            "test": key.value,
            "samples": [{"batch_id": c["batch_id"]} for c in there[:2]],
            "settings": settings.get(key.value, {}),
        }
        for key in TESTS
    ]
    body = {"name": "All questions", "rounds": rounds, "tasters": ["Ola", "Kim", "Paper"]}
    return dict(send(page, "POST", f"/trials/{trial['id']}/tastings", body))


def answer(phone: Page, drawn: str) -> None:
    """One round on a phone, by tapping what comes first."""
    match drawn:
        case "samples":
            phone.get_by_label("Moist", exact=True).fill("6")
            phone.get_by_role("button", name="Next sample").click()
            phone.get_by_label("Moist", exact=True).fill("7")
        case "order":
            phone.locator("button.act.mono").first.click()
            phone.locator("ol.places li").first.wait_for()
            phone.locator("button.act.mono").first.click()
        case "groups":
            for n in range(2):
                phone.locator("button[aria-pressed]").nth(n).click()
        case "labels":
            for n in range(2):
                phone.locator("select").nth(n).select_option(index=n + 1)
        case _:
            phone.locator(".cups button").first.click()


def on_paper(drawn: str, order: list[str], labels: list[str]) -> str:
    """What stands on a ballot for one round."""
    match drawn:
        case "order":
            return ", ".join(order)
        case "groups":
            return f"{order[0]} + {order[1]}"
        case "labels":
            return ", ".join(f"{c} = {w}" for c, w in zip(order, labels, strict=True))
        case _:
            return order[-1]


def test_every_kind_of_question_by_phone_and_by_paper(served: Served, context: Context) -> None:
    lead = context().new_page()
    sign_in(lead, served.address)
    trial, shift = trial_with_shift(lead, ("oven", "microwave"))
    cook(lead, shift)
    made = lay(lead, trial)
    for name in ("Ola", "Kim"):
        seat = next(s["id"] for s in made["seats"] if s["name"] == name)
        link = send(lead, "POST", f"/tastings/{made['id']}/seats/{seat}/hand-overs")["link"]
        phone = context(**PHONE).new_page()
        phone.goto(link)
        may_eat(phone)
        for n, r in enumerate(made["rounds"], 1):
            phone.get_by_text(f"Round {n} of {len(made['rounds'])}").wait_for()
            answer(phone, r["drawn"])
            assert phone.evaluate("document.documentElement.scrollWidth") <= 390, r["test"]
            assert phone.evaluate(AT_TWICE_THE_SIZE) <= 390, f"{r['test']} in letters of twice the size"
            if n < len(made["rounds"]):
                phone.get_by_role("button", name="Next round").click()
        phone.get_by_role("button", name="I am done").click()
        phone.get_by_text("Done. Thank you.").wait_for()

    lead.goto(f"{served.address}/trials/{trial['id']}/taste")
    lead.get_by_text("2 of 3 tasters are done").wait_for()
    paper = next(s for s in made["seats"] if s["name"] == "Paper")
    lead.get_by_role("button", name="Paper ballot").nth(
        [s["id"] for s in made["seats"]].index(paper["id"])
    ).click()
    form = lead.get_by_role("dialog")
    names = sorted(m["name"] for m in trial["methods"])
    for r in made["rounds"]:
        order = paper["orders"][r["position"]]
        if r["drawn"] == "samples":
            for code in order:
                form.get_by_label(f"Moist of {code}").fill("7")
        else:
            form.get_by_label(r["question"]).fill(on_paper(r["drawn"], order, names))
    form.get_by_role("button", name="Keep this ballot").click()
    lead.get_by_text("3 of 3 tasters are done").wait_for()
    lead.get_by_role("button", name="Open the codes").click()
    lead.get_by_role("button", name="Open them", exact=True).click()
    expect(lead.locator("section.round h3")).to_have_count(len(TESTS))
    for told in lead.locator("section.round h3").all_inner_texts():
        assert re.search(r"\w", told), "every round tells something"
        assert "Nobody" not in told.split(" ")[:1] or "could be shown" in told


def test_six_who_pick_the_odd_one_know_beforehand_what_they_can_find_and_come_in_as_a_table(
    served: Served, context: Context
) -> None:
    lead = context().new_page()
    sign_in(lead, served.address)
    trial, shift = trial_with_shift(lead, ("oven", "microwave"))
    cook(lead, shift)
    lead.goto(f"{served.address}/trials/{trial['id']}/taste")
    lead.get_by_role("button", name="New tasting").click()
    form = lead.get_by_role("dialog")
    pick(form.get_by_text("Score each sample", exact=True), re.compile("odd one"))
    people = ["Ada", "Ben", "Cleo", "Dan", "Eve", "Finn"]
    form.locator("textarea[name=tasters]").fill("\n".join(people))
    # Of six, five right are needed; such a panel mostly misses a plain difference.
    expect(form.locator(".plan")).to_contain_text("5 of 6")
    expect(form.locator(".plan")).to_contain_text("would be found 1 time in 20")
    form.get_by_role("button", name="Deal codes and orders").click()
    lead.get_by_role("button", name="Open the codes").wait_for()
    made = send(lead, "GET", f"/trials/{trial['id']}/tastings")["items"][0]
    rows = ["Seat,Round,Code,Question,Answer,Words"]
    rows += [f"{s['name']},1,,,{s['orders'][0][0]}," for s in made["seats"]]
    file = {"name": "answers.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}
    lead.locator("input[type=file]").set_input_files(file)
    lead.get_by_text("6 of 6 tasters are done").wait_for()
    lead.get_by_role("button", name="Open the codes").click()
    lead.get_by_role("button", name="Open them", exact=True).click()
    told = lead.locator("section.round").first
    expect(told.locator("h3")).to_contain_text(re.compile(r"\d of 6 found the odd one"))
    expect(told).to_contain_text("Asked which of the two has more of it")
