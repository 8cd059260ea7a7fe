"""How a tablet comes to trust the kitchen's own certificate."""

from pathlib import Path

from flask import Blueprint, Response, current_app, request
from markupsafe import escape

from yeasty.api.problems import not_found

trust = Blueprint("trust", __name__)


_WITH_AUTHORITY = """
<ol><li><a href='/trust/authority.crt'>Fetch the kitchen's authority</a> on the tablet.</li>
<li>Install it: on Android under Settings, Security, Encryption &amp; credentials, Install a certificate, CA
certificate. On iPadOS open the profile under Settings, then switch it on under General, About, Certificate
Trust Settings. On a computer import it into the browser's or system's list of authorities.</li>
<li>Open <a href='/'>{here}</a> again: the warning is gone, and the bench works without network too.</li></ol>
<p>The authority was made on the machine that runs this kitchen, is only good for this kitchen's addresses,
and its key never leaves it. Remove it from the tablet when you no longer use it. Names of menus differ
between makers.</p>"""
_WITHOUT = """
<p>This kitchen runs without a certificate of its own. On this machine (localhost) all works. On other
devices, over plain HTTP, browsers switch off: keeping the screen awake, working without network after a
reload, the camera in the page, and cookies marked secure. Start with <code>./run --host ADDRESS</code> to
serve them over TLS.</p>"""
_PAGE = """<!doctype html><html lang='en'><head><meta charset='utf-8'>
<meta name='viewport' content='width=device-width, initial-scale=1'><title>Trust this kitchen</title>
<link rel='stylesheet' href='/style/page.css'></head><body><main>
<h1>How a tablet comes to trust this kitchen</h1>{steps}</main></body></html>"""


@trust.get("/trust")
def trust_page() -> Response:
    """What to do on a tablet, once."""
    steps = _WITH_AUTHORITY if current_app.config["AUTHORITY"] else _WITHOUT
    html = _PAGE.format(steps=steps.format(here=escape(request.host_url)))
    return current_app.response_class(html, mimetype="text/html")


@trust.get("/trust/authority.crt")
def authority() -> Response:
    """The authority's certificate (public; the key stays on the machine)."""
    folder = current_app.config["AUTHORITY"]
    if not folder:
        raise not_found("authority")
    data = (Path(folder) / "authority.crt").read_bytes()
    response = current_app.response_class(data, mimetype="application/x-x509-ca-cert")
    response.headers["Content-Disposition"] = 'attachment; filename="yeasty-kitchen-authority.crt"'
    return response
