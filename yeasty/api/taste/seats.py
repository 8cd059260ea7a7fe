"""Seats of a tasting: who sits down, comes late or leaves, links handed over, ballots and tables typed in."""

from base64 import b64decode

from flask import Response, request

from yeasty.api.blueprint import blueprint
from yeasty.api.problems import not_found
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.reckon import reckon
from yeasty.api.request import answer, db, me, require
from yeasty.api.taste.sitting import changed, locked_at, tasting_at
from yeasty.api.taste.told import address, ballots_of, plates_of, tasting_view
from yeasty.api.taste.views import (
    AnswersTaken,
    Ballot,
    HandedOver,
    LateTaster,
    PaperChoice,
    SeatPath,
    TastingPath,
    TastingView,
)
from yeasty.core.kernel.errors import RuleError
from yeasty.core.taste.paper import stickers_html
from yeasty.operations.taste import answers, panels
from yeasty.operations.taste import people as tasters
from yeasty.store.base import now
from yeasty.store.kitchen.people_tables import Role
from yeasty.store.kitchen.queries import the_kitchen
from yeasty.store.taste.tables import Seat, SeatAct

seats = blueprint("seats", "taste")


@seats.post("/tastings/<uuid:tasting_id>/seats", responses={201: TastingView})
@require(Role.COOK)
def add_seat(path: TastingPath, body: LateTaster) -> Response:
    """Somebody comes late: a seat and an order of their own."""
    tasting = locked_at(path.tasting_id)
    panels.add_seat(db(), tasting, tasters.panelist(db(), body.person_id) if body.person_id else body.name)
    changed(tasting)
    return answer(tasting_view(tasting), 201)


def _seat_of(path: SeatPath) -> Seat:
    seat = db().get(Seat, path.seat_id, with_for_update={"of": Seat})
    if seat is None or seat.tasting_id != path.tasting_id:
        raise not_found("seat")
    return seat


@seats.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/revoke", responses={200: TastingView})
@require(Role.COOK)
def revoke_link(path: SeatPath) -> Response:
    """Make a seat's link void. Answers given stay; a new link can be handed over."""
    seat = _seat_of(path)
    seat.link_generation += 1
    return answer(tasting_view(tasting_at(path.tasting_id)))


@seats.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/leave", responses={200: TastingView})
@require(Role.COOK)
def leave_seat(path: SeatPath) -> Response:
    """Somebody leaves: the seat is not waited for any more. What was answered stands."""
    seat = _seat_of(path)
    seat.link_generation += 1
    seat.revoked_at = seat.revoked_at or now()
    db().flush()
    tasting = tasting_at(path.tasting_id)
    changed(tasting)
    return answer(tasting_view(tasting))


@seats.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/hand-overs", responses={201: HandedOver})
@require(Role.COOK)
def hand_over(path: SeatPath) -> Response:
    """Make a seat's link anew and show it this once, to be handed over or printed; who did, and when, is kept
    for good.
    """
    import segno

    seat = _seat_of(path)
    seat.link_generation += 1
    db().add(SeatAct(seat_id=seat.id, person_id=me().person_id, at=now(), what="handed over"))
    db().flush()
    base, warning = address()
    link = f"{base}/t/{panels.link_token(the_kitchen(db()).secret, seat)}"
    qr = segno.make(link, error="m").svg_data_uri(scale=5, border=3, dark="#1f1a17", light="#ffffff")
    return answer(HandedOver(link=link, qr=qr, warning=warning), 201)


@seats.post("/tastings/<uuid:tasting_id>/seats/<uuid:seat_id>/ballots", responses={200: TastingView})
@require(Role.LEAD)
def type_ballot(path: SeatPath, body: Ballot) -> Response:
    """Type a paper ballot in. It only writes; who did counts as knowing these answers, and that is kept for
    good.
    """
    seat = _seat_of(path)
    seat.told_allergens_at = seat.told_allergens_at or now()
    for line in body.lines:
        answers.take_typed(db(), seat, answers.TypedCell(**dict(line)))
    _typed_in(seat)
    tasting = tasting_at(path.tasting_id)
    changed(tasting)
    return answer(tasting_view(tasting))


def _typed_in(seat: Seat) -> None:
    """A ballot on paper is done once it is typed in; who did is kept for good."""
    seat.told_allergens_at = seat.told_allergens_at or now()
    seat.finished_at = seat.finished_at or now()
    db().add(SeatAct(seat_id=seat.id, person_id=me().person_id, at=now(), what="typed in"))
    db().flush()


@seats.post("/tastings/<uuid:tasting_id>/table", responses={200: AnswersTaken})
@require(Role.LEAD)
def take_table(path: TastingPath) -> Response:
    """Answers as CSV, with a header of seat, round, code, question, answer, words; all or nothing. Whoever
    brought them counts as knowing these answers.
    """
    tasting = tasting_at(path.tasting_id)
    try:
        text = request.get_data(cache=False).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise RuleError("table", "is not UTF-8 text", "Save it as CSV in UTF-8.") from None
    seats, said, comments = answers.take_table(db(), tasting, text)
    for seat in seats:
        _typed_in(seat)
    changed(tasting)
    return answer(AnswersTaken(answers=said, comments=comments))


@seats.get("/tastings/<uuid:tasting_id>/stickers.pdf")
@require(Role.COOK)
def stickers_pdf(path: TastingPath, query: PaperChoice) -> Response:
    """Codes to stick on cups: each once a person."""
    t = tasting_at(path.tasting_id)
    there = [s for s in t.seats if s.revoked_at is None]
    html = stickers_html([s.code for s in t.samples], len(there), query.stock)
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "codes.pdf")


@seats.get("/tastings/<uuid:tasting_id>/ballots.pdf")
@require(Role.COOK)
def ballots_pdf(path: TastingPath, query: PaperChoice) -> Response:
    """A ballot a person, each with what is on the table first."""
    html = ballots_of(tasting_at(path.tasting_id), query.paper)
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "ballots.pdf")


@seats.get("/tastings/<uuid:tasting_id>/plates.pdf")
@require(Role.COOK)
def plates_pdf(path: TastingPath, query: PaperChoice) -> Response:
    """A mat a person: a ring for each code in the order in which they are tasted."""
    html = plates_of(tasting_at(path.tasting_id), query.paper)
    return file_answer(b64decode(reckon("pdf", html=html)), "application/pdf", "plates.pdf")
