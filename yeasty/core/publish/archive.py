"""The archive: a whole trial as one zip that opens anywhere and imports to the same rows.

Layout: `manifest.json` (format, version, files with SHA-256), `trial.json` (every row, by table),
`schema.json` (JSON Schema of both), `tables/*.csv` for reading, `photos/<id>.<ext>` and
`photos/<id>.thumb.jpg`. Members are stored, sorted and dated 1980-01-01, so that the same trial gives the
same bytes.
"""

import csv
import json
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from hashlib import sha256
from importlib.resources import files
from io import BytesIO, StringIO
from typing import Any

from yeasty.core.kernel.errors import RuleError
from yeasty.core.publish.upgrades import UPGRADES, upgraded

FORMAT = "yeasty-trial-archive"
VERSION = 13
# Older ones are brought up to today's by a function a version: see `upgrades`.
READS = (*UPGRADES, VERSION)
MOST_BYTES = 200 * 1024 * 1024
MOST_MEMBERS = 5000
_EPOCH = (1980, 1, 1, 0, 0, 0)


class BadArchive(RuleError):
    """An archive that was refused. `problems` lists everything that is wrong with it."""

    def __init__(self, problems: Sequence[str]) -> None:
        super().__init__(
            "archive",
            "; ".join(problems[:3]),
            "Nothing was written. Choose an archive this program exported.",
        )
        self.problems = tuple(problems)


@dataclass(frozen=True)
class Contents:
    """What an archive holds: rows by table, and photos by file name."""

    tables: Mapping[str, Sequence[Mapping[str, Any]]]
    photos: Mapping[str, bytes]


@cache
def schema() -> dict[str, Any]:
    """The JSON Schema of `manifest.json` and `trial.json`, as shipped in every archive."""
    return json.loads(files("yeasty.core.publish").joinpath("archive.schema.json").read_text("utf-8"))  # type: ignore[no-any-return]


def _json(value: Any) -> bytes:
    return (json.dumps(value, ensure_ascii=False, sort_keys=True, indent=1) + "\n").encode()


# What a spreadsheet runs where a cell begins with it, also after spaces and in full width; and what it may
# skip before.
RUN = tuple("=+-@＝＋－＠﹦﹢﹣﹫")
RUN_AFTER = ("\t", "\r", "\n")


def csv_table(rows: Sequence[Mapping[str, Any]]) -> str:
    """Rows as CSV with a header; nested values as JSON; texts that a spreadsheet would run are quoted.

    >>> csv_table([{"a": 1, "b": "=1+1"}])
    "a,b\\r\\n1,'=1+1\\r\\n"
    >>> [_cell(t) for t in (" =1", "\\n+1", "＝1", "1 = 1")]
    ["' =1", "'\\n+1", "'＝1", '1 = 1']
    """
    if not rows:
        return ""
    out = StringIO()
    names = sorted({name for row in rows for name in row})
    writer = csv.writer(out)
    writer.writerow(names)
    for row in rows:
        writer.writerow([_cell(row.get(name)) for name in names])
    return out.getvalue()


def _cell(value: Any) -> Any:
    if isinstance(value, dict | list):
        return json.dumps(value, ensure_ascii=False, sort_keys=True)
    if isinstance(value, str) and (value[:1] in RUN_AFTER or value.lstrip()[:1] in RUN):
        return "'" + value
    return "" if value is None else value


def pack(contents: Contents, csv_tables: Sequence[str]) -> bytes:
    """The archive's bytes. Same contents, same bytes.

    Parameters
    ----------
    contents : rows (JSON values only) and photos
    csv_tables : names of tables that are also written as CSV
    """
    members: dict[str, bytes] = {
        "trial.json": _json(contents.tables),
        "schema.json": _json(schema()),
        **{f"photos/{name}": data for name, data in contents.photos.items()},
    }
    for name in csv_tables:
        members[f"tables/{name}.csv"] = csv_table(list(contents.tables.get(name, []))).encode()
    manifest = {
        "format": FORMAT,
        "version": VERSION,
        "files": {name: sha256(data).hexdigest() for name, data in sorted(members.items())},
    }
    members["manifest.json"] = _json(manifest)
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as zipped:
        for name in sorted(members):
            info = zipfile.ZipInfo(name, _EPOCH)
            info.external_attr = 0o644 << 16
            zipped.writestr(info, members[name])
    return out.getvalue()


def unpack(data: bytes) -> Contents:
    """Read an archive, or say everything that is wrong with it.

    Raises
    ------
    BadArchive : not a zip, too large, members outside the layout, sums that do not match, another format or
        version, rows that do not fit the schema
    """
    members, manifest, tables = _read(data)
    problems = _schema_problems(manifest, "manifest")
    if problems:
        raise BadArchive(problems)
    if manifest["version"] not in READS:
        reads = ", ".join(map(str, READS))
        raise BadArchive([f"it has version {manifest['version']}; this program reads versions {reads}"])
    for name, member in members.items():
        if name != "manifest.json" and manifest["files"].get(name) != sha256(member).hexdigest():
            problems.append(f"“{name}” is not as the manifest says")
    problems += [f"“{name}” is listed and missing" for name in manifest["files"] if name not in members]
    problems += _schema_problems(upgraded(tables, manifest["version"], VERSION), "tables")
    if problems:
        raise BadArchive(problems)
    photos = {n.removeprefix("photos/"): d for n, d in members.items() if n.startswith("photos/")}
    return Contents(tables, photos)


def _read(data: bytes) -> tuple[dict[str, bytes], Any, Any]:
    """Members, manifest and tables of a zip that is laid out as an archive."""
    if len(data) > MOST_BYTES:
        raise BadArchive([f"it is larger than {MOST_BYTES // 2**20} MB"])
    try:
        zipped = zipfile.ZipFile(BytesIO(data))
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError):
        raise BadArchive(["it is not a zip file"]) from None
    problems = _layout_problems(zipped.infolist())
    if problems:
        raise BadArchive(problems)
    try:
        members = {name: zipped.read(name) for name in zipped.namelist()}
        manifest = json.loads(members["manifest.json"])
        return members, manifest, json.loads(members["trial.json"], parse_constant=_no_number)
    except (
        zipfile.BadZipFile,
        ValueError,
        RecursionError,
        EOFError,
        RuntimeError,
        OSError,
        zlib.error,
    ) as broken:
        raise BadArchive([f"a file in it cannot be read ({type(broken).__name__})"]) from None


def _layout_problems(infos: list[zipfile.ZipInfo]) -> list[str]:
    """What does not belong in an archive, told before anything is unpacked."""
    if len(infos) > MOST_MEMBERS:
        return [f"it holds {len(infos)} files; {MOST_MEMBERS} is the most"]
    if sum(i.file_size for i in infos) > MOST_BYTES:
        return [f"unpacked it is larger than {MOST_BYTES // 2**20} MB"]
    problems = []
    names = [i.filename for i in infos]
    if len(set(names)) != len(names):
        problems.append("a file name occurs twice")
    for info in infos:
        name = info.filename
        known = name in ("manifest.json", "trial.json", "schema.json") or name.startswith(
            ("tables/", "photos/")
        )
        if name.startswith("/") or ".." in name.split("/") or "\\" in name or not known:
            problems.append(f"“{name[:80]}” does not belong in an archive")
        if info.compress_type != zipfile.ZIP_STORED:
            problems.append(f"“{name[:80]}” is compressed; archives are stored")
    problems += [f"{needed} is missing" for needed in ("manifest.json", "trial.json") if needed not in names]
    return problems


def _no_number(word: str) -> None:
    raise ValueError(f"{word} is not a number")


def _schema_problems(value: Any, part: str) -> list[str]:
    import jsonschema

    validator = jsonschema.Draft202012Validator({**schema(), "$ref": f"#/$defs/{part}"})
    return [
        f"{'/'.join(str(p) for p in e.absolute_path) or part}: {e.message[:160]}"
        for e in list(validator.iter_errors(value))[:20]
    ]
