"""Passwords: which are good enough, and how they are kept (OWASP, Password Storage Cheat Sheet: Argon2id)."""

import threading
from collections.abc import Sequence
from functools import cache
from typing import TYPE_CHECKING

from pronostico.errors import Refused
from pronostico.record.faults import Fault

if TYPE_CHECKING:
    from argon2 import PasswordHasher

LEAST_CHARACTERS, MOST_CHARACTERS = 10, 128
_LEAST_SCORE = 2
"""Of 0 to 4, by the guesses that a password takes: fewer than a hundred million are too few."""
_WEIGHED_CHARACTERS = 40
"""A longer beginning takes long to weigh, and is strong enough by then."""


@cache
def _hasher() -> "PasswordHasher":
    from argon2 import PasswordHasher

    return PasswordHasher()


def check_password(password: str, *, known: Sequence[str] = ()) -> None:
    """Refuse a password that is soon guessed.

    Args:
        known: what others know of its owner, such as the name.

    Raises:
        Refused: it is too short, too long or too common.
    """
    if len(password) < LEAST_CHARACTERS:
        raise _refused(f"has {len(password)} characters; expected at least {LEAST_CHARACTERS}")
    if len(password) > MOST_CHARACTERS:
        raise _refused(f"has {len(password)} characters; expected at most {MOST_CHARACTERS}")
    left = password.casefold()
    for word in known:
        left = left.replace(word.casefold(), "")
    if sum(one.isalnum() for one in left) < LEAST_CHARACTERS // 2:
        raise _refused(
            "is little more than the name; expected three or four words that do not belong together"
        )
    from zxcvbn import zxcvbn

    weighed = zxcvbn(password[:_WEIGHED_CHARACTERS], user_inputs=["pronostico", *known])
    if weighed["score"] < _LEAST_SCORE:
        raise _refused(
            "is one of the first to be guessed; expected three or four words that do not belong together"
        )


def _refused(message: str) -> Refused:
    return Refused([Fault("$.password", message)])


# Each takes 64 MB: strangers who try many at once wait in a row.
_AT_ONCE = threading.BoundedSemaphore(2)


def hash_password(password: str) -> str:
    """What is kept of a password: Argon2id with a salt of its own."""
    with _AT_ONCE:
        return _hasher().hash(password)


@cache
def _nobodys_hash() -> str:
    return hash_password("nobody has this password")


def is_password(password: str, password_hash: str | None) -> bool:
    """Whether a password is the one that was kept; takes as long where there is none."""
    from argon2.exceptions import InvalidHashError, VerificationError

    kept = password_hash or _nobodys_hash()
    try:
        with _AT_ONCE:
            _hasher().verify(kept, password[:MOST_CHARACTERS])
    except (VerificationError, InvalidHashError):
        return False
    return password_hash is not None
