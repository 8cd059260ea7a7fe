"""How well it is liked: nine words, from dislike extremely to like extremely."""

from yeasty.core.kernel.scales.kind import Scale, ScaleKind

LIKING = ScaleKind(
    Scale.LIKING,
    "Liking, 1 to 9",
    1,
    9,
    1,
    words=(
        "dislike extremely",
        "dislike very much",
        "dislike",
        "dislike a little",
        "neither",
        "like a little",
        "like",
        "like very much",
        "like extremely",
    ),
    drawn="words",
    takes_in_all=True,
    ranges=True,
)
