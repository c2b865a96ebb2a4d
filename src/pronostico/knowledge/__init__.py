"""The trade's knowledge as data, checked on load."""

from pronostico.knowledge.cautions import Caution, load_cautions
from pronostico.knowledge.firing_orders import FiringOrder, load_firing_orders
from pronostico.knowledge.first_looks import FirstLook
from pronostico.knowledge.in_use import (
    knowledge_source,
    knowledge_texts,
    load_closing,
    load_first_looks,
    load_knowledge,
    load_tests,
)
from pronostico.knowledge.loader import parse_knowledge
from pronostico.knowledge.patterns import Pattern, load_patterns
from pronostico.knowledge.tests import parse_tests

__all__ = [
    "Caution",
    "FiringOrder",
    "FirstLook",
    "Pattern",
    "knowledge_source",
    "knowledge_texts",
    "load_cautions",
    "load_closing",
    "load_firing_orders",
    "load_first_looks",
    "load_knowledge",
    "load_patterns",
    "load_tests",
    "parse_knowledge",
    "parse_tests",
]
