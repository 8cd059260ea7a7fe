"""A page as PDF. Run as a module it reads HTML and writes PDF, so that the writer's memory and time are its
own.
"""

import subprocess
import sys
from importlib.resources import as_file, files


def pdf_of(html: str) -> bytes:
    """A page as PDF. Only files beside the published page's own style sheet are read, and photos
    that are part of it; nothing is fetched."""
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher, URLFetcherResponse

    with as_file(files("yeasty.core.publish").joinpath("page")) as folder:
        root = folder.resolve().as_uri() + "/"

        class OnlyOurs(URLFetcher):
            def fetch(self, url: str, headers: dict[str, str] | None = None) -> URLFetcherResponse:
                if not url.startswith((root, "data:image/jpeg;base64,")):
                    raise ValueError(f"not fetched: {url}")
                return super().fetch(url, headers)

        fetcher = OnlyOurs(allowed_protocols={"file", "data"})
        return bytes(HTML(string=html, base_url=root, url_fetcher=fetcher).write_pdf())


def pdf_elsewhere(html: str) -> bytes:
    """The same in a process of its own, so that whoever waits for numbers does not wait for paper."""
    done = subprocess.run(
        [sys.executable, "-m", "yeasty.worker.pdf"],
        input=html.encode(),
        capture_output=True,
        check=True,
        timeout=120,
    )
    return done.stdout


if __name__ == "__main__":
    sys.stdout.buffer.write(pdf_of(sys.stdin.buffer.read().decode()))
