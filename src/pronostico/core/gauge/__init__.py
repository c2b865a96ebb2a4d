"""Feeler blades: the likelihood of a try, the verdict on a clearance, and which blade to try next."""
