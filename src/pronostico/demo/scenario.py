"""The winter sports workshop: engines, what is really so with them, and how they were looked after.

Everything is made up. The visits come from the simulator with a fixed seed; dates are counted back from
the day the demonstration is started, so that 'this week' stays this week.
"""

from datetime import date

from pronostico.demo.groomer import groomer
from pronostico.demo.gun_pump import gun_pump
from pronostico.demo.machine import DemoMachine
from pronostico.demo.quad import quad
from pronostico.demo.resurfacers import resurfacers
from pronostico.demo.snowmobile import snowmobile
from pronostico.demo.standby_drive import standby_drive
from pronostico.demo.thrower import thrower

SEED = 26


def demo_machines(today: date) -> tuple[DemoMachine, ...]:
    """All machines of the demonstration on a given day."""
    return (
        *resurfacers(today, SEED),
        standby_drive(today, SEED + 2),
        snowmobile(today, SEED + 3),
        groomer(today, SEED + 4),
        thrower(today, SEED + 5),
        gun_pump(today, SEED + 6),
        quad(today, SEED + 8),
    )
