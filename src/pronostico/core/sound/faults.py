"""Why a recording, or what was said of it, cannot be used."""

from typing import Literal

from pronostico.core.errors import CoreError

Code = Literal[
    "not-a-wav",
    "rate-too-low",
    "too-short",
    "not-finite",
    "silent",
    "bad-rpm",
    "bad-engine",
    "no-such-channel",
    "no-sound-channel",
    "no-sparks",
    "too-few-cycles",
]


class SoundFault(CoreError):
    """A recording that cannot be used; `code` tells which of the reasons it is."""

    def __init__(self, code: Code, message: str) -> None:
        self.code = code
        super().__init__(message)
