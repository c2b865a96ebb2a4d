"""Feeler blades: what a try says of a clearance, the verdict, and which blade to try next."""
