"""The front end's files: hashed ones for good, the shell always asked for anew."""

from pathlib import Path

from flask import Blueprint, Response, send_from_directory

from yeasty.api.problems import not_found

front = Blueprint("front", __name__)
WEB = Path(__file__).resolve().parents[2] / "web" / "dist"


@front.get("/")
@front.get("/<path:path>")
def front_end(path: str = "") -> Response:
    """A file of the front end; its shell for every page it knows."""
    if path.startswith("api/"):
        raise not_found("address")
    if path and (WEB / path).is_file():
        response = send_from_directory(WEB, path)
        kept = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
        response.headers["Cache-Control"] = kept
        return response
    if path.startswith("assets/"):
        raise not_found("file")
    if not (WEB / "index.html").exists():
        return Response("The front end is not built. Start with ./run, which builds it.\n", 503, mimetype="text/plain")
    response = send_from_directory(WEB, "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response
