from datetime import date

from pronostico.core.usage import MeterChange, meter_offset

CHANGES = [MeterChange(date(2025, 3, 1), 1990.0, 0.0), MeterChange(date(2025, 9, 1), 999.0, 4.0)]


def test_every_change_up_to_the_day_counts():
    assert meter_offset(CHANGES, date(2025, 2, 28)) == 0.0
    assert meter_offset(CHANGES, date(2025, 3, 1)) == 1990.0
    assert meter_offset(CHANGES, date(2026, 1, 1)) == 1990.0 + 995.0
    assert meter_offset([], date(2026, 1, 1)) == 0.0
