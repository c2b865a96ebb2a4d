"""Speed, measured: run with `make bench`."""
