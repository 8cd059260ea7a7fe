"""The front end's files, as compressed by the build: hashed ones for good, the shell always asked for
anew.
"""

import mimetypes
from pathlib import Path

from flask import Blueprint, Response, request, send_from_directory

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
        response = _sent(path)
        kept = "public, max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
        response.headers["Cache-Control"] = kept
        return response
    if path.startswith("assets/"):
        raise not_found("file")
    if not (WEB / "index.html").exists():
        return Response(
            "The front end is not built. Start with ./run, which builds it.\n", 503, mimetype="text/plain"
        )
    response = _sent("index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response


def _sent(path: str) -> Response:
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
    return response
