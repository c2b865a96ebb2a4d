"""The trade's knowledge as data, checked on load."""

from pronostico.knowledge.cautions import Caution, load_cautions
from pronostico.knowledge.closing import load_closing
from pronostico.knowledge.firing_orders import FiringOrder, load_firing_orders
from pronostico.knowledge.first_looks import FirstLook, load_first_looks
from pronostico.knowledge.loader import load_knowledge, parse_knowledge
from pronostico.knowledge.patterns import Pattern, load_patterns
from pronostico.knowledge.tests import load_tests, parse_tests

__all__ = [
    "Caution",
    "FiringOrder",
    "FirstLook",
    "Pattern",
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
