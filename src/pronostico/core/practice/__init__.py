"""The practice engine: hidden clearances and a fault, a run of steps, and its review."""
