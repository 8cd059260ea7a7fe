"""Which entries stand after corrections and undos. The order does not depend on when they arrive."""

from collections.abc import Iterable

from yeasty.core.cook.payloads import unreadable
from yeasty.core.kernel.entries import Entry, EntryKind


def in_order(entries: Iterable[Entry]) -> list[Entry]:
    """Entries by (corrected device time, device, counter), each id once."""
    by_id = {e.id: e for e in entries}
    return sorted(by_id.values(), key=lambda e: (e.at, e.device, e.counter, e.id))


def effective(entries: Iterable[Entry]) -> list[Entry]:
    """What stands after corrections: a superseded entry falls away, an undo leaves nothing in its place; what
    cannot be read says nothing.

    An undo of an undo brings the first entry back; of two corrections of one entry the later one stands.

    >>> a = Entry("a", "b", EntryKind.NOTE, 1, "d", 1, {"text": "pale"})
    >>> u = Entry("u", "b", EntryKind.UNDONE, 2, "d", 2, {}, supersedes="a")
    >>> effective([a, u]), [e.id for e in effective([a])]
    ([], ['a'])
    """
    ordered = [e for e in in_order(entries) if not unreadable(e.kind, e.payload)]
    facts = [e for e in ordered if e.kind is not EntryKind.UNDONE]
    alive = _alive(ordered)
    root = _roots(facts)
    replaced = {e.supersedes for e in facts if e.supersedes != e.id and e.id in alive}
    # Of a fact and all its corrections one stands: the last that was neither undone nor corrected.
    stands: dict[str, Entry] = {}
    for e in facts:
        if e.id in alive and e.id not in replaced:
            stands[root[e.id]] = e
    for e in facts:
        # Corrections that go round in a circle: the last of them.
        if e.id in alive and (root[e.id] not in stands or stands[root[e.id]].id in replaced):
            stands[root[e.id]] = e
    return [e for e in facts if stands.get(root[e.id]) is e]


def _alive(ordered: Iterable[Entry]) -> frozenset[str]:
    """Entries that were not undone, by id; an undo that was undone undoes nothing. Walked without
    recursion.
    """
    ordered = list(ordered)
    undos: dict[str, list[str]] = {}
    for e in ordered:
        if e.kind is EntryKind.UNDONE and e.supersedes and e.supersedes != e.id:
            undos.setdefault(e.supersedes, []).append(e.id)
    found: dict[str, bool] = {}
    for e in ordered:
        open_ = [] if e.id in found else [(e.id, iter(undos.get(e.id, ())))]
        path = {e.id}
        while open_:
            _, rivals = open_[-1]
            lives: bool | None = True
            for u in rivals:
                if u in path:
                    continue
                if u not in found:
                    open_.append((u, iter(undos.get(u, ()))))
                    path.add(u)
                    lives = None
                    break
                if found[u]:
                    lives = False
                    break
            while lives is not None and open_:
                one, _ = open_.pop()
                found[one] = lives
                path.discard(one)
                # An undo that lives settles what it undoes; else the next one is looked at.
                lives = False if lives else None
    return frozenset(k for k, lives in found.items() if lives)


def _roots(facts: Iterable[Entry]) -> dict[str, str]:
    """Of each fact the id of what it corrects in the end, which need not have arrived."""
    target = {e.id: e.supersedes for e in facts}
    root: dict[str, str] = {}
    for start in target:
        path: dict[str, int] = {}
        at = start
        while at not in root:
            path[at] = len(path)
            then = target.get(at)
            if not then or then == at:
                root[at] = at
            elif then in path:
                root[at] = min(list(path)[path[then] :])
            else:
                at = then
        for one in path:
            root[one] = root[at]
    return root
