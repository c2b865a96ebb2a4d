"""A short soak: nothing lost, nothing doubled, no failure of the server."""

import pytest

from tests.soak import soak


# Eight servers start one after another; on a machine that is shared that takes its time.
@pytest.mark.timeout(900)
def test_killed_strained_fed_rubbish_and_out_of_room_nothing_is_lost(demo_path):
    report = soak(
        demo_path,
        more_kills=lambda done: done < 1,
        more_strained=lambda done: done < 2,
        more_requests=lambda done: done < 40,
    )
    assert (report.lost, report.doubled, report.failed) == (0, 0, 0)
    assert report.answers > 0
    assert report.copies > 0
    assert report.requests == 40
    # A refusal is what rubbish gets, mostly.
    assert report.statuses[422] + report.statuses[404] > report.requests / 2
    assert report.second_refused
    assert report.full_disk_told
