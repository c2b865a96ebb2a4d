"""The wheel, installed alone as somebody without Node.js or make does it."""

import os
import subprocess
import sys
from pathlib import Path

import httpx2
import pytest

from pronostico import __version__
from tests.served import free_port

ROOT = Path(__file__).parents[1]
UV = Path(sys.executable).with_name("uv")


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of the commands of a clean environment with nothing but the wheel and what it needs."""
    folder = tmp_path_factory.mktemp("dist")
    environment = folder / "venv"

    def run(*command: str | Path) -> None:
        done = subprocess.run(command, check=False, cwd=ROOT, capture_output=True, text=True)
        assert done.returncode == 0, done.stderr

    # What the set-up fetched is enough: nothing is asked of the network.
    run(UV, "build", "--quiet", "--offline", "--wheel", "--out-dir", folder)
    (wheel,) = folder.glob("*.whl")
    run(UV, "venv", "--quiet", "--python", sys.executable, environment)
    install = (UV, "pip", "install", "--quiet", "--offline", "--python", environment / "bin" / "python")
    run(*install, "--require-hashes", "-r", "requirements.lock")
    run(*install, "--no-deps", wheel)
    return environment / "bin"


def _served(commands: Path, home: Path, *words: str) -> tuple[subprocess.Popen[str], str]:
    own = {"HOME": str(home), "PATH": os.environ["PATH"], "PYTHONUNBUFFERED": "1"}
    server = subprocess.Popen(
        [commands / "pronostico", *words, "--port", str(free_port())],
        stdout=subprocess.PIPE,
        text=True,
        cwd=home,
        env=own,
    )
    assert server.stdout is not None
    line = next(line for line in server.stdout if "http://" in line)
    return server, next(word for word in line.split() if word.startswith("http://"))


# The machine may be shared and slow; nothing here is about speed.
LONGEST_S = 60.0


@pytest.mark.parametrize("words", [("demo",), ("serve",)])
def test_it_serves_its_pages_from_the_wheel(installed, tmp_path, words):
    server, address = _served(installed, tmp_path, *words)
    try:
        page = httpx2.get(address, timeout=LONGEST_S).text
        script = page.split('src="')[1].split('"')[0]
        assert httpx2.get(address.rstrip("/") + script, timeout=LONGEST_S).status_code == 200
        engines = httpx2.get(f"{address}api/engines", timeout=LONGEST_S).json()
        assert bool(engines) == (words == ("demo",))
    finally:
        server.terminate()
        server.wait(timeout=20)
        assert server.stdout is not None
        server.stdout.close()
    # Its own data are where the guide says, and nowhere else.
    kept = tmp_path / ".local" / "share" / "pronostico" / "pronostico.sqlite"
    assert kept.exists() == (words == ("serve",))


def test_it_says_its_version(installed):
    said = subprocess.check_output([installed / "pronostico", "--version"], text=True)
    assert said.strip() == __version__
    assert f"## {__version__}" in (ROOT / "CHANGELOG.md").read_text()
