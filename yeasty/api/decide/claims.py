"""Claims: what may be claimed, picked and withdrawn."""

from uuid import UUID

from flask import Response
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.kitchen.slow_work import verdict_wanted
from yeasty.api.problems import ApiError
from yeasty.api.request import answer, db, me, require
from yeasty.api.shown import shown
from yeasty.core.decide.outcome import Claimable, ClaimTold
from yeasty.operations.decide import claims
from yeasty.store.ask.tables import Trial
from yeasty.store.kitchen.people_tables import Role

claimed = blueprint("claims", "decide")


class ClaimsView(BaseModel):
    """What is claimed, as the records have it now, and what may be claimed; `fresh` is False while a newer
    look is being worked out.
    """

    fresh: bool
    claims: list[ClaimTold]
    claimable: list[Claimable]


def _told(trial: Trial) -> Response:
    said = claims.claims_now(db(), trial)
    if not said.fresh:
        verdict_wanted(trial.id)
    return answer(shown(ClaimsView, said))


@claimed.get("/trials/<uuid:trial_id>/claims", responses={200: ClaimsView})
@require(Role.COOK)
def get_claims(path: TrialPath) -> Response:
    """Claims of a trial, each with its records, and everything that may be claimed."""
    return _told(open_trial(path.trial_id))


class ClaimIn(BaseModel):
    """A pick: a measure or question, a way, and which it is held against; without one against every other."""

    measure: str = Field(max_length=100)
    subject: UUID
    other: UUID | None = None


@claimed.post("/trials/<uuid:trial_id>/claims", responses={201: ClaimsView})
@require(Role.COOK)
def pick_claim(path: TrialPath, body: ClaimIn) -> Response:
    """Claim something; what its records do not carry is refused with the reason."""
    trial = open_trial(path.trial_id)
    claims.pick(db(), trial, body.measure, body.subject, body.other)
    found = _told(trial)
    found.status_code = 201
    return found


class ClaimPath(TrialPath):
    """A claim of a trial."""

    claim_id: UUID


@claimed.delete("/trials/<uuid:trial_id>/claims/<uuid:claim_id>", responses={200: ClaimsView})
@require(Role.COOK)
def withdraw_claim(path: ClaimPath) -> Response:
    """Claim it no longer."""
    trial = open_trial(path.trial_id)
    try:
        claims.withdraw_claim(db(), trial, path.claim_id, me().id)
    except LookupError:
        raise ApiError(404, "Not here", "That claim is gone already.") from None
    return _told(trial)
