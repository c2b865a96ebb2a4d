"""What became of a tick after setting, in a word."""

from typing import Literal

Verdict = Literal["gone", "still-there", "quieter", "louder", "cannot-tell"]
