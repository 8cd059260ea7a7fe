"""What a calculator asks and answers, as plain data; and reading what a cook typed."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from yeasty.core.heat.ranged import Ranged
from yeasty.core.kernel import quantities as q
from yeasty.core.kernel import quantities_said as said
from yeasty.core.kernel.errors import RuleError
from yeasty.core.kernel.quantities import System
from yeasty.core.workbench.own_records import Record


@dataclass(frozen=True)
class Field:
    """One thing asked.

    Attributes
    ----------
    kind : a key of `quantities.PARSERS`, "number", "percent", "choice", "table" (rows of numbers) or "check"
    default : as a cook would type it; of a choice a key, of a table rows of text
    choices : (key, words) of a choice; columns : (kind, words) of a table
    optional : may be left empty
    only_for : (key of a choice, its values): asked only then
    """

    key: str
    label: str
    kind: str
    default: Any = ""
    help: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    columns: tuple[tuple[str, str], ...] = ()
    optional: bool = False
    only_for: tuple[str, tuple[str, ...]] | None = None


@dataclass(frozen=True)
class Line:
    """One answer: words, and where it comes from."""

    label: str
    text: str
    source: str = ""


@dataclass(frozen=True)
class Series:
    """A curve or points of a chart."""

    name: str
    points: tuple[tuple[float, float], ...]
    dots: bool = False


@dataclass(frozen=True)
class Mark:
    """A horizontal line with a name."""

    name: str
    value: float


@dataclass(frozen=True)
class Chart:
    """A small chart: axes in words, curves, and horizontal marks."""

    x_label: str
    y_label: str
    series: tuple[Series, ...]
    marks: tuple[Mark, ...] = ()


@dataclass(frozen=True)
class Result:
    """What a calculator answers.

    Attributes
    ----------
    headline : the answer in a sentence
    lines, notes, charts : what it stands on
    rule, predicted : the rule of thumb used and what it said (SI), so that what was really so can be kept as
        a record
    predicted_kind : how that is typed, as the `kind` of a field
    take, take_kind : the figure to put into a recipe (SI), and how it is typed; None where the answer is none
        such
    """

    headline: str
    lines: tuple[Line, ...] = ()
    notes: tuple[str, ...] = ()
    charts: tuple[Chart, ...] = ()
    rule: str = ""
    predicted: float | None = None
    predicted_kind: str = ""
    take: float | None = None
    take_kind: str = ""


@dataclass(frozen=True)
class Asked:
    """What was filled in, read on demand; a field that cannot be read is named as the person knows it."""

    fields: Mapping[str, Field]
    given: Mapping[str, Any]
    system: System
    records: tuple[Record, ...] = ()

    def _text(self, key: str) -> str:
        value = self.given.get(key, self.fields[key].default)
        return "" if value is None else str(value).strip()

    def maybe(self, key: str) -> float | None:
        """A number in SI, None where the field was left empty."""
        return None if not self._text(key) else self.number(key)

    def number(self, key: str) -> float:
        """A number in SI.

        Raises
        ------
        BadQuantity : names the field
        """
        return q.read_quantity(self.fields[key].kind, self._text(key), self.fields[key].label, self.system)

    def choice(self, key: str) -> str:
        """The key that was chosen."""
        text = self._text(key)
        known = [k for k, _ in self.fields[key].choices]
        if text not in known:
            raise RuleError(
                self.fields[key].label,
                f"“{text[:40]}” is not one of the choices",
                "Choose one of: " + ", ".join(known) + ".",
            )
        return text

    def shown(self, celsius: float) -> float:
        """A temperature on a chart's axis, in the person's units."""
        return q.fahrenheit(float(celsius)) if self.system is System.US else float(celsius)

    @property
    def degrees(self) -> str:
        """The unit of that axis."""
        return "°F" if self.system is System.US else "°C"

    def rows(self, key: str) -> list[list[float | None]]:
        """Rows of a table as numbers in SI; empty rows are left out, empty cells are None."""
        found: list[list[float | None]] = []
        spec = self.fields[key]
        raw: Sequence[Sequence[Any]] = self.given.get(key, spec.default) or []
        if not isinstance(raw, list | tuple) or len(raw) > 20_000:
            raise RuleError(spec.label, "is not a table", "Give rows of numbers, 20,000 at most.")
        for n, row in enumerate(raw, 1):
            cells = [str(c).strip() if c is not None else "" for c in row]
            if not any(cells):
                continue
            if len(cells) != len(spec.columns):
                raise RuleError(
                    f"{spec.label}, row {n}", f"has {len(cells)} cells", f"It takes {len(spec.columns)}."
                )
            found.append(
                [
                    q.read_quantity(kind, cell, f"{spec.label}, row {n}, {words}", self.system)
                    if cell
                    else None
                    for (kind, words), cell in zip(spec.columns, cells, strict=True)
                ]
            )
        return found

    def full_rows(self, key: str) -> list[list[float]]:
        """As `rows`, but every cell has to be filled in."""
        found = []
        for n, row in enumerate(self.rows(key), 1):
            full = [c for c in row if c is not None]
            if len(full) != len(row):
                raise RuleError(
                    f"{self.fields[key].label}, row {n}", "has an empty cell", "Fill it in or clear the row."
                )
            found.append(full)
        return found


@dataclass(frozen=True)
class Calculator:
    """A calculator: name, what it is for, what it asks, how it answers, where it holds."""

    key: str
    group: str
    name: str
    what: str
    fields: tuple[Field, ...]
    work: Callable[[Asked], Result] = field(repr=False)
    holds: str = ""

    def run(
        self, given: Mapping[str, Any], system: System = System.METRIC, records: Sequence[Record] = ()
    ) -> Result:
        """The answer to what was filled in; fields left out take their defaults.

        Raises
        ------
        RuleError : names the field and says what to do
        """
        known = {f.key: f for f in self.fields}
        strange = set(given) - set(known)
        if strange:
            raise RuleError(
                "inputs",
                f"{', '.join(sorted(strange))} not known here",
                "Leave it out, or open the calculator anew.",
            )
        return self.work(Asked(known, given, system, tuple(records)))


def say_range(r: Ranged, say: Callable[[float], str]) -> str:
    """A figure with its range in words: "about 12 min (10 to 15 min)".

    >>> say_range(Ranged(720, 600, 900, ""), said.say_duration)
    'about 12 min (10 min to 15 min)'
    """
    if r.low == r.value == r.high:
        return say(r.value)
    return f"about {say(r.value)} ({say(r.low)} to {say(r.high)})"


def sayer(kind: str, system: System) -> Callable[[float], str]:
    """How a kind of quantity is said in a person's units.

    >>> sayer("temperature", System.US)(100.0)
    '212 °F'
    """
    if kind == "mass":
        return lambda v: said.say_mass(v, system)
    if kind == "temperature":
        return lambda v: said.say_temperature(round(v, 1), system)
    if kind == "duration":
        return lambda v: said.say_duration(v if v < 600 else 60 * round(v / 60))
    if kind == "power":
        return lambda v: f"{v:.0f} W"
    if kind == "pressure":
        return lambda v: f"{v / 1000:.0f} kPa ({v / 6894.757:.1f} psi)"
    if kind == "length":
        return lambda v: said.say_length(v, system)
    return lambda v: f"{v:.3g}"
