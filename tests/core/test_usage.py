from datetime import date

from pronostico.core.usage import MeterChange, day_of_usage, meter_offset, usage_per_day

CHANGES = [MeterChange(date(2025, 3, 1), 1990.0, 0.0), MeterChange(date(2025, 9, 1), 999.0, 4.0)]


def test_every_change_up_to_the_day_counts():
    assert meter_offset(CHANGES, date(2025, 2, 28)) == 0.0
    assert meter_offset(CHANGES, date(2025, 3, 1)) == 1990.0
    assert meter_offset(CHANGES, date(2026, 1, 1)) == 1990.0 + 995.0
    assert meter_offset([], date(2026, 1, 1)) == 0.0


def test_the_rate_of_use_tells_the_day_of_a_running_total():
    history = [(date(2025, 1, 1), 100.0), (date(2025, 4, 11), 300.0)]
    # 200 in 100 days.
    assert usage_per_day(history) == 2.0
    assert day_of_usage(310.0, history) == date(2025, 4, 16)
    # What is past already is due on the day of the last visit.
    assert day_of_usage(200.0, history) == date(2025, 4, 11)


def test_no_day_is_reported_where_the_rate_is_not_known():
    assert usage_per_day([]) is None and usage_per_day([(date(2025, 1, 1), 5.0)]) is None
    assert day_of_usage(9.0, [(date(2025, 1, 1), 5.0), (date(2025, 1, 9), 6.0)]) is None
    assert day_of_usage(9.0, [(date(2025, 1, 1), 5.0), (date(2025, 6, 9), 5.0)]) is None
    # Twelve years off is no date.
    assert day_of_usage(4400.0, [(date(2025, 1, 1), 0.0), (date(2026, 1, 1), 365.0)]) is None
