"""What is tried again and again: counted by what it is about and where it comes from, then held off with a
time.
"""

from flask import request

from yeasty.api.problems import ApiError
from yeasty.api.request import db
from yeasty.store.kitchen import people


def count_try(what: str, about: str, *, most: int, most_in_all: int) -> None:
    """Count a try and keep the count, whatever becomes of the request.

    Parameters
    ----------
    what : the kind of thing that is tried; about : of which, as a login or a page
    most : about that from one address in a quarter of an hour; most_in_all : of its kind from that address

    Raises
    ------
    ApiError : 429 with the time to wait
    """
    try:
        people.count_try(db(), what, about, request.remote_addr or "", most=most, most_in_all=most_in_all)
    except people.TooManyTries as many:
        raise ApiError(
            429,
            "Too many tries",
            f"Wait {-(-many.wait_s // 60)} min, then try again.",
            headers={"Retry-After": str(many.wait_s)},
        ) from None
    db().commit()
