"""A trial that an endpoint works on: read, locked where it is edited, and answered whole."""

from functools import partial
from typing import Any
from uuid import UUID

from flask import Response, current_app, g, request

from yeasty.api.ask.views import (
    TrialPath,
    trial_view,
)
from yeasty.api.problems import not_found
from yeasty.api.request import (
    answer,
    before_commit,
    check_if_match,
    db,
    me,
)
from yeasty.operations.ask import design_history
from yeasty.operations.kitchen import taking_away
from yeasty.store.ask import queries as trials
from yeasty.store.ask.tables import Method, Trial


class MethodPath(TrialPath):
    """Which method of which trial."""

    method_id: UUID


def open_trial(trial_id: UUID, *, edit: bool = False, lock: bool = False) -> Trial:
    """A trial, locked and with its version checked where it is to be edited; `lock` alone is for what hangs
    on it and has a version of its own.
    """
    trial = trials.whole_trial(db(), trial_id, lock=edit or lock)
    if trial is None:
        raise not_found("trial")
    if edit:
        check_if_match(trial.version)
        before_commit(partial(_keep_history, trial, trial_view(trial).model_dump(mode="json")))
        before = taking_away.design_rows(trial), taking_away.pointing(db(), trial.id)
        before_commit(partial(_keep_what_was, trial, *before))
    return trial


def _keep_history(trial: Trial, before: dict[str, Any]) -> None:
    """Write down what an edit changed, by whom and by which act."""
    db().flush()
    if db().get(Trial, trial.id) is None:
        return
    view = current_app.view_functions[request.endpoint or ""]
    what = " ".join((view.__doc__ or request.endpoint or "").partition("\n\n")[0].split()).rstrip(".")
    # What was answered is what it is now: an endpoint answers with the whole at its end.
    told = g.get("whole_trial")
    after = (told if told and told.id == str(trial.id) else trial_view(trial)).model_dump(mode="json")
    by = me().person_id
    design_history.keep(db(), trial.id, trial.version, by=by, what=what, before=before, after=after)


def _keep_what_was(trial: Trial, before: taking_away.Rows, pointed: taking_away.Rows) -> None:
    """Keep the design as it was for a minute, where something of it was taken away or written over."""
    db().flush()
    if db().get(Trial, trial.id) is not None:
        taking_away.keep_design(db(), trial, before, pointed, me().id)


def method_of(trial: Trial, method_id: UUID) -> Method:
    """A method of a trial."""
    for method in trial.methods:
        if method.id == method_id:
            return method
    raise not_found("method")


def whole(trial: Trial, status: int = 200) -> Response:
    """The trial as it stands after an edit, with its new version."""
    db().flush()
    g.whole_trial = trial_view(trial)
    return answer(g.whole_trial, status, trial.version)
