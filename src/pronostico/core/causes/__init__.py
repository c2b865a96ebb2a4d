"""From findings to causes: the network, its ranking, the next test, and what closed cases teach."""
