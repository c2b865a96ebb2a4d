"""Engines: loaded, edited, and their stored results."""
