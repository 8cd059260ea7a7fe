"""What can go wrong, why, and what cures it; and what only looks wrong."""

from yeasty.core.publish.sections.kind import Record, Section, md


def _defects(r: Record) -> list[str]:
    rows = [
        f"| {md(t['name'])} | {md(t['looks'])} | {md(t['causes'])} | {md(t['cure'])} |"
        for t in r["troubles"]
        if not t["normal"]
    ]
    head = ["| what | how it looks | likely why | what to do |", "|---|---|---|---|"]
    return ["## If something goes wrong", "", "The kitchen's advice, as its opinion.", "", *head, *rows]


def _normal(r: Record) -> list[str]:
    out = ["## Looks wrong but is normal", ""]
    if r["normal"]:
        out += [md(r["normal"]), ""]
    out += [f"- {md(t['name'])}: {md(t['looks'])} {md(t['causes'])}" for t in r["troubles"] if t["normal"]]
    return out if out[-1] else out[:-1]


TROUBLES = Section("troubles", lambda r: any(not t["normal"] for t in r["troubles"]), _defects)
NORMAL = Section("normal", lambda r: bool(r["normal"]) or any(t["normal"] for t in r["troubles"]), _normal)
