"""What to adjust a valve to, by screw, shim or preload, and what it costs."""
