"""Where to turn the crank, and whether it stood there."""
