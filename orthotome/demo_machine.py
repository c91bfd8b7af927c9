"""What was found out of the demo's North table: an invented machine, a little out of square, and holes that come out small."""

from sqlmodel import Session

from orthotome.formats.machine.checks import AccelerationFile, SlackFile, TimedFile, TriedHoleFile
from orthotome.formats.machine.checks import CircleFile as Circle
from orthotome.formats.machine.measures import MachineMeasuresFile
from orthotome.store.machine import checks, holes, measured

_U_MM = 0.05
_MEASURED = {
    "format": "orthotome.machine_measures",
    "version": 1,
    "kerf_compensated_mm": 1.8,
    "drive_distance_mm": 1400,
    "pieces": [
        {
            "kind": "rectangle",
            "nominal_mm": [600, 400],
            "x_mm": 599.95,
            "y_mm": 399.9,
            "d1_mm": 722.3,
            "d2_mm": 720.1,
            "u_mm": 0.4,
        },
        {"kind": "rectangle", "nominal_mm": [200, 150], "x_mm": 199.93, "y_mm": 149.94, "u_mm": _U_MM},
        {"kind": "slot", "nominal_mm": 100, "x_mm": 100.06, "y_mm": 100.05, "u_mm": _U_MM},
    ],
}

# drawn, top, bottom, and whether it is flat at its lead-in
_HOLES = (
    (8.0, 7.5, 6.9, True),
    (12.0, 11.65, 11.3, False),
    (16.0, 15.75, 15.4, False),
    (24.0, 23.8, 23.45, False),
)


def fill_machine(session: Session, table_id: int, plate: holes.Plate) -> None:
    """Write what was found out of a table, and the holes that were tried in a plate."""
    measured.keep(session, table_id, MachineMeasuresFile.model_validate(_MEASURED), "as it came")
    run = TimedFile(legs=60, leg_mm=25, speed_mm_min=6000, seconds=22.4)
    checks.keep(session, table_id, AccelerationFile(kind="acceleration", axis="x", runs=(run,)))
    discs = (
        Circle(turns="clockwise", x_mm=119.96, y_mm=119.93, a_mm=120.1, b_mm=119.88, u_mm=_U_MM),
        Circle(
            turns="counter_clockwise", x_mm=119.94, y_mm=119.95, a_mm=120.09, b_mm=119.86, u_mm=_U_MM
        ),
    )
    checks.keep(session, table_id, SlackFile(kind="slack", drawn_mm=120, circles=discs))
    for drawn, top, bottom, flat in _HOLES:
        hole = TriedHoleFile(
            drawn_mm=drawn, top_mm=top, bottom_mm=bottom, u_mm=_U_MM, flat=flat, fell=True
        )
        holes.keep(session, table_id, plate, hole)
