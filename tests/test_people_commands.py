"""The commands over people, as they are typed."""

import pytest
from typer.testing import CliRunner

from pronostico.cli import app
from pronostico.store.database import Database


@pytest.fixture
def run(tmp_path):
    path = tmp_path / "workshop.sqlite"
    Database(path).close()

    def run(*arguments, typed=None):
        return CliRunner().invoke(app, ["people", *arguments, "--database", str(path)], input=typed)

    return run


GOOD = "gasket blue winter\n" * 2


@pytest.mark.file_only
def test_people_are_added_listed_given_another_password_and_removed(run):
    assert "Nobody yet" in run("list").output
    assert "is on the list as owner" in run("add", "Mira Sand", "--role", "owner", typed=GOOD).output
    assert run("add", "Ole Brand", "--no-password").exit_code == 0
    listed = run("list").output.splitlines()
    assert listed == ["MS   Mira Sand: owner, password", "OB   Ole Brand: technician, paired devices alone"]
    assert "signed out everywhere" in run("reset", "ole brand", typed=GOOD).output
    assert "off the list" in run("remove", "Ole Brand").output
    assert len(run("list").output.splitlines()) == 1


@pytest.mark.file_only
@pytest.mark.parametrize(
    ("arguments", "typed", "says"),
    [
        (("add", "Eva", "--role", "boss"), None, "'boss' is no role; expected reader, technician, owner"),
        (("add", "Eva"), "1234567890\n" * 2, "first to be guessed"),
        (("add", "Mira Sand"), GOOD, "already"),
        (("remove", "Mira Sand"), None, "only owner"),
        (("remove", "Eva"), None, "there is nobody called 'Eva'; on the list: Mira Sand"),
    ],
)
def test_what_is_wrong_is_said_in_one_sentence(run, arguments, typed, says):
    run("add", "Mira Sand", "--role", "owner", typed=GOOD)
    answer = run(*arguments, typed=typed)
    assert answer.exit_code == 1
    assert says in answer.output


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (("--lan", "--certificate", "a.pem"), "go together"),
        (("--certificate", "a.pem", "--key", "b.pem"), "is for --lan"),
    ],
)
def test_a_certificate_without_its_key_or_without_the_network_is_refused(arguments, says):
    answer = CliRunner().invoke(app, ["serve", *arguments])
    assert answer.exit_code == 1
    assert says in answer.output
