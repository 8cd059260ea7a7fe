"""In and out: archives and tables as CSV."""

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from yeasty.api.ask.opened import open_trial
from yeasty.api.ask.views import TrialPath
from yeasty.api.blueprint import blueprint
from yeasty.api.kitchen.slow_work import still_wanted, stoppable
from yeasty.api.problems import ApiError, not_found
from yeasty.api.publish.archive_rows import problems_of
from yeasty.api.publish.endpoints import file_answer
from yeasty.api.request import after_commit, answer, db, me, require
from yeasty.core.kernel.slow_work import WorkKind
from yeasty.core.publish.archive import MOST_BYTES, BadArchive, csv_table, pack, unpack
from yeasty.operations.publish import archive_in, archives
from yeasty.store.kitchen import people
from yeasty.store.kitchen.people_tables import Role

inout = blueprint("inout", "in and out")


class ArchiveQuery(BaseModel):
    """With tastings whose codes are still closed: for the lead, and recorded."""

    with_closed_codes: bool = False


class TablePath(TrialPath):
    """Which table of which trial."""

    name: str = Field(max_length=40)


class Imported(BaseModel):
    """The trial that came in."""

    trial_id: str


@inout.get("/trials/<uuid:trial_id>/archive", responses={200: None})
@require(Role.COOK)
def get_archive(path: TrialPath, query: ArchiveQuery) -> Response:
    """A whole trial as an archive."""
    trial = open_trial(path.trial_id)
    if query.with_closed_codes and me().role != Role.LEAD:
        raise ApiError(403, "For the lead", "Only the lead may take closed codes along.")
    rows = archives.handed_out(db(), trial, with_closed_codes=query.with_closed_codes, by=me().person_id)
    response = file_answer(pack(rows, archives.CSV_TABLES), "application/zip", "trial.yeasty.zip")
    response.headers["Content-Disposition"] = 'attachment; filename="trial.yeasty.zip"'
    response.headers["Cache-Control"] = "no-store"
    return response


@inout.post("/archives", responses={201: Imported})
@require(Role.COOK)
@stoppable(WorkKind.ARCHIVE)
def add_archive() -> Response:
    """Import an archive (its bytes as the request's body). Nothing is written unless all of it can be."""
    if (request.content_length or 0) > MOST_BYTES:
        raise BadArchive([f"it is larger than {MOST_BYTES // 2**20} MB"])
    contents = unpack(request.get_data(cache=False))
    problems = problems_of(contents.tables)
    if problems:
        raise BadArchive(problems)
    still_wanted()
    trial_id = archive_in.import_rows(db(), contents)
    people.note(db(), "imported an archive", str(trial_id), by=me().person_id)
    jobs = current_app.extensions["yeasty_jobs"]
    after_commit(lambda: jobs.analyse(trial_id))
    return answer(Imported(trial_id=str(trial_id)), 201)


@inout.get("/trials/<uuid:trial_id>/tables/<string:name>.csv", responses={200: None})
@require(Role.COOK)
def get_table(path: TablePath) -> Response:
    """A table of a trial as CSV. Answers only of opened tastings."""
    trial = open_trial(path.trial_id)
    if path.name not in archives.CSV_TABLES:
        raise not_found("table")
    rows = archives.export_rows(db(), trial.id).tables[path.name]
    response = file_answer(csv_table(list(rows)).encode(), "text/csv; charset=utf-8", f"{path.name}.csv")
    response.headers["Content-Disposition"] = f'attachment; filename="{path.name}.csv"'
    response.headers["Cache-Control"] = "no-store"
    return response
