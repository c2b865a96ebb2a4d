"""Spoken commands at the engine: what may be said with a set of blades, and what of it was heard."""
