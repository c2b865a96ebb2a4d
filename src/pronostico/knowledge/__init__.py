"""The trade's knowledge as data: kinds of findings and causes, checked on load."""

from pronostico.knowledge.loader import load_knowledge, parse_knowledge

__all__ = ["load_knowledge", "parse_knowledge"]
