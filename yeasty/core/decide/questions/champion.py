"""Champion and challenger: on a tie the champion stays."""

from yeasty.core.decide.outcome import Answered, Asks, HowSure, Mark, Picture, Sentence, Stands
from yeasty.core.decide.questions.kind import Asked, Basis, Way, spoken, sure_of


def champion(asked: Asked, basis: Basis) -> Answered:
    """The margin that takes the title is the difference that matters, set beforehand."""
    v = basis.verdict
    holder = next((w for w in asked.ways if w.key == asked.champion), None)
    if holder is None:
        said = Sentence("No champion is named, so this is told as ways side by side.", "Ask", Stands.LAID_OUT)
        told = (said, *v.sentences)
        return Answered(Asks.CHAMPION, v.headline, v.how_sure, v.leader, told)
    if basis.fit is None or holder.key not in basis.fit.means:
        absent = Sentence(
            "The champion itself was not tasted beside the challengers.", "tasted cookings", Stands.LAID_OUT
        )
        headline = f"{holder.name} stays: nothing was tasted beside it"
        told = (absent, *v.sentences)
        return Answered(Asks.CHAMPION, headline, HowSure.NOT_COMPARABLE, _if_fit(holder), told)
    beaten = [w for w in asked.ways if w.key != holder.key and w.fit and w.key in basis.fit.means]
    if not beaten or basis.fit.f_person == 0:
        return Answered(Asks.CHAMPION, v.headline, v.how_sure, _if_fit(holder), v.sentences)
    means = basis.fit.means
    rival = max(beaten, key=lambda w: (means[w.key], w.tag))
    r = basis.range(rival.key, holder.key)
    if r is None:
        return Answered(Asks.CHAMPION, v.headline, v.how_sure, _if_fit(holder), v.sentences)
    sure = sure_of(r, v)
    margin = asked.matters
    rule = Sentence(
        f"A challenger takes the title by at least {margin:g} {'point' if margin == 1 else 'points'}, and by "
        "more than chance."
        if margin > 0
        else "A challenger takes the title by more than chance; no margin was set beforehand.",
        "set at Ask",
        Stands.LAID_OUT,
    )
    picture = _line(asked, basis)
    if sure is not HowSure.LEVEL and r.difference >= margin and r.difference > 0 and not asked.slipped:
        headline = f"{rival.name} takes the title: ahead of {holder.name} by {spoken(r)}"
        return Answered(Asks.CHAMPION, headline, sure, rival.key, (rule, *v.sentences), picture)
    if r.difference <= 0:
        why = f"no challenger came out ahead; {rival.name} came nearest"
    elif asked.slipped:
        why = f"{rival.name} also differed in {', '.join(asked.slipped)}"
    elif r.difference < margin:
        why = f"{rival.name} is ahead by {r.difference:.1f}, less than the {margin:g} that takes the title"
    else:
        why = f"{rival.name} is ahead by {spoken(r)}, which chance alone may give"
    keeps = f"{holder.name} keeps the title: {why}"
    if not holder.fit:
        keeps = f"{holder.name} keeps the title and may not be recommended: its core is not on record; {why}"
    return Answered(Asks.CHAMPION, keeps, sure_of(r, v), _if_fit(holder), (rule, *v.sentences), picture)


def _if_fit(way: Way) -> str | None:
    return way.key if way.fit else None


def _line(asked: Asked, basis: Basis) -> Picture:
    """Champion and challengers, each against the champion."""
    marks = []
    for w in asked.ways:
        r = basis.range(w.key, asked.champion or "") if w.key != asked.champion else None
        marks.append(
            Mark(
                w.name,
                None,
                r.difference if r else 0.0 if w.key == asked.champion else None,
                r.low if r else None,
                r.high if r else None,
                note="champion" if w.key == asked.champion else w.change,
                picked=w.key == asked.champion,
                stands="champion" if w.key == asked.champion else "",
            )
        )
    return Picture("line", "against the champion", "points", marks)
