"""Instruments that feed the record, each kind behind a small protocol, simulated and replayed.

A new kind is one module with its protocol and its simulated stand-in, and one entry in `kinds.py`.
"""
