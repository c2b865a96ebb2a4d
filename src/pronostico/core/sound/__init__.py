"""What a regular noise of a running four-stroke engine belongs to, from a recording of it."""
