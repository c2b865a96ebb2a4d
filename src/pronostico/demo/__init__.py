"""The demonstration: a made-up workshop, simulated from a stated truth."""
