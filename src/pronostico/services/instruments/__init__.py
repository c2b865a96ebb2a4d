"""Instruments at a visit: live traces, replays, and readings imported from them."""
