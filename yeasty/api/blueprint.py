"""How a station's operations are registered."""

import os

from flask_openapi3 import APIBlueprint, Tag

# A process that serves says so: describing every operation takes a second of its start, and only the front
# end's build reads it.
DESCRIBES = not os.environ.get("YEASTY_SERVES")


def blueprint(name: str, tag: str) -> APIBlueprint:
    """Operations under /api/v1, told in the description under a tag."""
    return APIBlueprint(name, __name__, url_prefix="/api/v1", abp_tags=[Tag(name=tag)], doc_ui=DESCRIBES)
