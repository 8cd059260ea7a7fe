"""Parsers fed their worst shapes. Each runs in a process of its own that may use so much processor time and
no more: what is quadratic or worse in the length of a text needs hours for these and is ended, on a machine
of any speed.
"""

import resource
import subprocess
import sys

import pytest

MOST_CPU_S = 60
READERS = {
    "quantity": "from yeasty.core.kernel.quantities import read_quantity as r\n"
    "from yeasty.core.kernel.quantities import parse_mass, parse_duration\n"
    "from yeasty.core.kernel.quantities import parse_temperature, parse_pressure\n"
    "read = lambda t: [f(t) for f in (parse_mass, parse_duration, parse_temperature, parse_pressure)]",
    "recipe": "from yeasty.core.publish.recipe_in import read_recipe as read",
    "probe log": "from yeasty.core.cook.probe_log import read_probe_log as read",
    "words": "from yeasty.core.kernel.words import plain as read",
    "device line": "from yeasty.core.cook.readings import read_line\nread = lambda t: read_line(t, 'hub', 1)",
    "nesting": "from yeasty.api.guard import deepest\nread = lambda t: deepest(t.encode('utf-8', "
    "'surrogatepass'))",
}
MANY = 400_000
SHAPES = {
    "digits": "'1' * N",
    "fraction": "'9' * N + '/1'",
    "spaces": "' ' * N + 'x'",
    "name with spaces": "'time,core' + ' ' * N + 'C\\n0,1\\n1,2\\n'",
    "brackets": "'[' * N",
    "links": "'# a\\n## Ingredients\\n- ' + '[a](' * (N // 4)",
    "tags": "'<' * N",
    "open tags": "'<br' * (N // 3)",
    "script": "'ld+json <script ' * (N // 16)",
    "comment": "'ld+json<!' + '<![' * (N // 3)",
    "heading": "'# ' + ' ' * N + '#x'",
    "stars": "'**' * (N // 2)",
    "ingredient": "'# a\\n## Ingredients\\n- ' + '1 ' * (N // 2)",
    "step": "'# a\\n## Method\\n1. ' + 'until ' * (N // 6)",
    "many lines": "'# a\\n## Method\\n' + '1. Bake 20 min.\\n' * (N // 20)",
    "deep": "'{\"a\":' * (N // 5) + '1'",
    "deep recipe": "'{\"@type\":\"Recipe\",\"recipeInstructions\":' + '[' * 900 + ']' * 900 + '}'",
    "five": '\'{"@type":"Recipe","ingredients":5,"name":"x"}\'',
    "quotes": "'\"' * N",
    "escapes": "'\"' + '\\\\\\\\\"' * (N // 2)",
    "cells": "'time,a\\n' + '0,' + '1' * N + '\\n1,2\\n'",
    "columns": "'time' + ',a' * (N // 2) + '\\n0\\n1\\n'",
    "half": "'\\ud83d' * 10",
    "nothing": "''",
}
PROGRAM = """
N = {many}
from yeasty.core.kernel.errors import RuleError
{reader}
for shape in ({shapes},):
    try:
        read(shape)
    except RuleError:
        pass
"""


def bounded() -> None:
    resource.setrlimit(resource.RLIMIT_CPU, (MOST_CPU_S, MOST_CPU_S))


@pytest.mark.parametrize("reader", READERS)
def test_the_worst_shapes_are_read_or_refused_in_bounded_work(reader: str) -> None:
    text = PROGRAM.format(many=MANY, reader=READERS[reader], shapes=", ".join(SHAPES.values()))
    done = subprocess.run(
        [sys.executable, "-c", text], capture_output=True, text=True, preexec_fn=bounded, check=False
    )
    assert done.returncode == 0, done.stderr[-2000:] or f"ended by signal {-done.returncode}"
