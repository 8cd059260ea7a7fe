"""Schools of judging, one file each: how answers become a score a taster and method, and the rule in words.

Nobody else asks which school it is: what differs is a field of `SchoolKind`.
"""

from collections.abc import Mapping

from yeasty.core.ask.deciding import School
from yeasty.core.decide.schools.kind import SchoolKind
from yeasty.core.decide.schools.pairs import PAIRS
from yeasty.core.decide.schools.rank import RANK
from yeasty.core.decide.schools.weighted import WEIGHTED

SCHOOLS: Mapping[School, SchoolKind] = {s.key: s for s in (WEIGHTED, RANK, PAIRS)}

__all__ = ["SCHOOLS", "SchoolKind"]
