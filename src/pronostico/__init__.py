"""Pronostico: valve clearances recorded, assessed and predicted."""

import os

__version__ = "0.2.0"

# The matrices here are small: threads of the linear algebra only get in each other's way. It is read when
# NumPy is first loaded, so it stands before everything.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
