"""Pronostico: valve clearances remembered, understood and foretold."""

__version__ = "0.1.0"
