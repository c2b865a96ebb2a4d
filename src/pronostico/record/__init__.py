"""The open format: one JSON document for one engine, its checks, and its way into the core."""
