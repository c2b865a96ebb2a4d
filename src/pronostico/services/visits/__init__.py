"""A visit step by step, from preparing to verifying."""
