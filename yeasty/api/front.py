"""The front end's files, as compressed by the build: hashed ones for good, the shell always asked for
anew.
"""

import mimetypes
from pathlib import Path

from flask import Blueprint, Response, request, send_from_directory

from yeasty.api.problems import not_found

front = Blueprint("front", __name__)
FOR_EVER = "public, max-age=31536000, immutable"
NOT_BUILT = "The front end is not built. Start with ./run, which builds it.\n"
WEB = Path(__file__).resolve().parents[2] / "web" / "dist"


@front.get("/")
@front.get("/<path:path>")
def front_end(path: str = "") -> Response:
    """A file of the front end; its shell for every page it knows."""
    if path.startswith("api/"):
        raise not_found("address")
    if path and (WEB / path).is_file():
        return _sent(path, kept=FOR_EVER if path.startswith("assets/") else "no-cache")
    if path.startswith("assets/"):
        raise not_found("file")
    if not (WEB / "index.html").exists():
        return Response(NOT_BUILT, 503, mimetype="text/plain")
    return _sent("index.html", kept="no-cache")


def _sent(path: str, *, kept: str) -> Response:
    """A built file; its compressed twin where the browser takes it. Answers of the API are never compressed:
    the size of one must not tell what is in it.
    """
    packed = (WEB / f"{path}.gz").is_file()
    if packed and request.accept_encodings["gzip"]:
        response = send_from_directory(WEB, f"{path}.gz", mimetype=mimetypes.guess_type(path)[0])
        response.headers["Content-Encoding"] = "gzip"
    else:
        response = send_from_directory(WEB, path)
    if packed:
        response.headers["Vary"] = "Accept-Encoding"
    response.headers["Cache-Control"] = kept
    return response
