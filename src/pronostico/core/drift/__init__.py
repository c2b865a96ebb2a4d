"""How clearances move from visit to visit: the state-space model, its inference, and the forecast."""
