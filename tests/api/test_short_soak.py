"""A short soak: nothing lost, nothing doubled, no failure of the server."""

from tests.soak import soak


def test_killed_fed_rubbish_and_out_of_room_nothing_is_lost(demo_path):
    report = soak(demo_path, more_kills=lambda done: done < 2, more_requests=lambda done: done < 80)
    assert (report.lost, report.doubled, report.failed) == (0, 0, 0)
    assert report.answers >= 6
    assert report.copies > 0
    assert report.requests == 80
    # A refusal is what rubbish gets, mostly.
    assert report.statuses[422] + report.statuses[404] > report.requests / 2
    assert report.second_refused
    assert report.full_disk_told
