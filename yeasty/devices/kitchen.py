"""The kitchen as a browser or a device reaches it, over HTTP."""

import json
from http.cookiejar import CookieJar
from typing import Any
from urllib.error import HTTPError
from urllib.parse import urlsplit
from urllib.request import HTTPCookieProcessor, Request, build_opener

from yeasty.core.kernel.errors import RuleError


def told(refusal: dict[str, Any], path: str) -> RuleError:
    """A refusal in the kitchen's own words."""
    wrong = (refusal.get("errors") or [{}])[0]
    return RuleError(
        wrong.get("field") or path,
        wrong.get("message") or str(refusal.get("title")),
        wrong.get("todo") or str(refusal.get("detail") or ""),
    )


class Kitchen:
    """The kitchen over HTTP, as a browser or a device sees it. Kept to addresses of one's own: it sends a
    password.
    """

    def __init__(self, address: str) -> None:
        if urlsplit(address).scheme not in ("http", "https"):
            raise RuleError(
                "address",
                f"“{address}” is not one",
                "Give it as the kitchen prints it, as http://127.0.0.1:8765.",
            )
        self.address = address.rstrip("/")
        self._http = build_opener(HTTPCookieProcessor(CookieJar()))
        self._csrf = ""

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """One request; a refusal is told in the kitchen's own words."""
        headers = {"Content-Type": "application/json", "X-CSRFToken": self._csrf}
        data = json.dumps(body).encode() if body is not None else None
        try:
            with self._http.open(
                Request(f"{self.address}/api/v1{path}", data, headers, method=method), timeout=30
            ) as got:
                return json.loads(got.read() or b"null")
        except HTTPError as refused:
            try:
                said = json.loads(refused.read())
            except ValueError:
                raise refused from None
            raise told(said, path) from None

    def sign_in(self, login: str, password: str) -> None:
        """Sign in as a cook or the lead."""
        self._csrf = self.ask("GET", "/session")["csrf"]
        self.ask("POST", "/session", {"login": login, "password": password})
        self._csrf = self.ask("GET", "/session")["csrf"]

    def send_lines(self, token: str, body: str) -> dict[str, Any]:
        """What a device sends, with its token."""
        headers = {"Content-Type": "application/x-ndjson", "Authorization": f"Bearer {token}"}
        with build_opener().open(
            Request(f"{self.address}/api/v1/device-lines", body.encode(), headers, method="POST"), timeout=30
        ) as got:
            return dict(json.loads(got.read()))
