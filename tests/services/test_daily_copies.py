"""Full copies every day: due once a day, made while it is served, and a failure is said."""

from datetime import datetime, timedelta

import pytest

from pronostico.services.exchange.daily_copies import DailyCopies, DailyCopy, is_due, set_daily_copy
from pronostico.services.exchange.full_copy import checked_copy, last_copy

MORNING = datetime.fromisoformat("2026-03-02T02:30:00+01:00")


@pytest.mark.parametrize(
    ("last", "due"),
    [
        (None, True),
        (MORNING - timedelta(days=1), True),
        (MORNING - timedelta(minutes=31), True),
        (MORNING - timedelta(minutes=29), False),
        (MORNING, False),
    ],
)
def test_one_is_due_once_after_the_hour_of_each_day(last, due):
    assert is_due(DailyCopy(folder="/copies", hour=2), last, MORNING) == due


def test_before_the_hour_it_is_yesterdays_that_counts():
    daily = DailyCopy(folder="/copies", hour=4)
    assert not is_due(daily, MORNING - timedelta(hours=20), MORNING)
    assert is_due(daily, MORNING - timedelta(hours=23), MORNING)


def test_a_copy_is_made_where_one_is_due_and_not_again(demo_path, tmp_path):
    folder = tmp_path / "copies"
    set_daily_copy(demo_path, DailyCopy(folder=str(folder), hour=2))
    copies = DailyCopies(demo_path, now=lambda: MORNING)
    copies.make_if_due()
    copies.make_if_due()
    (made,) = (one for one in folder.iterdir() if one.name != "photographs")
    assert checked_copy(made).rows["engines"] > 0
    assert last_copy(demo_path).made_at == MORNING
    tomorrow = DailyCopies(demo_path, now=lambda: MORNING + timedelta(days=1))
    tomorrow.make_if_due()
    assert last_copy(demo_path).made_at == MORNING + timedelta(days=1)


def test_a_folder_that_is_gone_is_said_until_a_copy_succeeds(client, demo_path, tmp_path):
    folder = tmp_path / "copies"
    told = client.put("/api/backup/daily-copy", json={"folder": str(folder), "hour": 2}).json()
    assert told["daily"] == {"folder": str(folder), "hour": 2}
    copies = client.app.state.daily_copies
    # The disk is away: something else lies where its folder was.
    folder.rmdir()
    folder.write_text("not a folder")
    copies.make_if_due()
    assert str(folder) in client.get("/api/backup/copies").json()["fault"]
    folder.unlink()
    copies.make_if_due()
    told = client.get("/api/backup/copies").json()
    assert told["fault"] is None
    assert told["last"]["folder"] == str(folder)
    assert client.delete("/api/backup/daily-copy").json()["daily"] is None


@pytest.mark.parametrize(
    ("folder", "says"),
    [
        ("", "whole path"),
        ("copies", "whole path"),
        ("/proc/copies", "cannot be written to"),
        ("/nowhere/copies", "No such file"),
        ("/x\0y", "cannot be written to"),
    ],
)
def test_a_folder_that_cannot_be_used_is_refused_when_it_is_chosen(client, folder, says):
    refused = client.put("/api/backup/daily-copy", json={"folder": folder, "hour": 2})
    assert refused.status_code == 422
    (fault,) = refused.json()["faults"]
    assert fault["path"] == "$.folder"
    assert says in fault["message"]
    assert client.get("/api/backup/copies").json()["daily"] is None
