"""Made-up engines with a known truth, for the demonstration, the practice engine and the benchmarks."""
