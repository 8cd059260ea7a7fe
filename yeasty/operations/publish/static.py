"""All pages as a folder of plain files that opens from a disk, without this program."""

from functools import partial
from importlib.resources import files
from pathlib import Path

from sqlalchemy.orm import Session

from yeasty.core.publish.contents import Sheet, contents, entry_of
from yeasty.core.publish.html import index_html, page_html
from yeasty.core.publish.pictures import file_of
from yeasty.operations.publish.pages import edition
from yeasty.operations.publish.photos import photo_files
from yeasty.store.publish.queries import newest_out

STYLE = "page.css"
LIKE = (".css", ".woff2", ".txt")


def write_pages(db: Session, folder: Path) -> list[Path]:
    """Write the newest version of every page that is out, a list of them, and what they are drawn with.

    Nothing in the folder is taken away. Links of a page go to files beside it; what needs the program (asking
    the kitchen, choosing by what there is tonight) is left out, and each page says so.

    Returns
    -------
    the files written

    Raises
    ------
    OSError : the folder cannot be made or written to
    """
    folder.mkdir(parents=True, exist_ok=True)
    rows = newest_out(db)
    texts = {
        f"{row.slug}.html": page_html(
            edition(db, row, row), base="", style=STYLE, flat=True, photo=partial(_beside, row.slug)
        )
        for row in rows
    }
    entries = contents([entry_of(row.slug, row.version, row.document) for row in rows])
    texts["index.html"] = index_html(Sheet(entries, len(entries)), "", style=STYLE, flat=True)
    written = []
    for name, text in sorted(texts.items()):
        (folder / name).write_text(text, encoding="utf-8")
        written.append(folder / name)
    for row in rows:
        for name, data in photo_files(db, row).items():
            (folder / f"{row.slug}-{name}").write_bytes(data)
            written.append(folder / f"{row.slug}-{name}")
    for file in files("yeasty.core.publish").joinpath("page").iterdir():
        if file.name.endswith(LIKE):
            (folder / file.name).write_bytes(file.read_bytes())
            written.append(folder / file.name)
    return written


def _beside(slug: str, number: int, width: int) -> str:
    """A photo's file lies beside its page."""
    return f"{slug}-{file_of(number, width)}"
