"""Every page has its help, and there is no help for a page that does not exist."""

import re
from pathlib import Path

SOURCES = Path(__file__).parents[1] / "frontend" / "src"


def test_every_address_has_its_help_and_no_other():
    app = (SOURCES / "app" / "App.tsx").read_text()
    screens = (SOURCES / "help" / "screens.ts").read_text()
    routes = set(re.findall(r"path: '(/[^']*)'", app))
    told = re.findall(r"'(/[^']*)'", "".join(re.findall(r"paths: \[(.*?)\]", screens, re.DOTALL)))
    assert set(told) == routes
    assert len(told) == len(set(told))
