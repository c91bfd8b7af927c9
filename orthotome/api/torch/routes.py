"""Torch sets, what is fitted, and how the jet stands."""

from anyio import from_thread

from orthotome.api.depends import Reading, Store, TheLines
from orthotome.api.routing import room
from orthotome.api.torch import answers, models
from orthotome.api.wire import Id
from orthotome.core.edge.edges import Swirl, good_side, heading_that_faces
from orthotome.core.edge.measuring import angle_gauge_u_deg
from orthotome.core.torch import alignment
from orthotome.core.trial.campaign import TorchSet
from orthotome.store import changes
from orthotome.store.errors import Refused
from orthotome.store.torch import fittings, mounts, sets

router = room("torch")


@router.post("/tables/{table_id}/fittings", status_code=201)
def fit(
    table_id: Id, request: models.FitRequest, database: Store, lines: TheLines
) -> models.FittingAnswer:
    """Note that parts were fitted, or the torch re-seated: a new series begins."""
    with database.write() as session:
        row = fittings.fit(
            session,
            table_id,
            request.kind,
            fittings.Change(**request.model_dump(exclude={"kind", "instead_of"})),
            instead_of=request.instead_of,
        )
        told = answers.fitting(row, fittings.fitted(session, table_id))
    from_thread.run(lines.fitted_anew, table_id)
    return told


@router.get("/torch-sets")
def get_torch_sets(session: Reading) -> list[models.TorchSetAnswer]:
    """The torch sets, by amperage."""
    return [answers.torch_set(s) for s in sets.torch_sets(session)]


@router.post("/torch-sets", status_code=201)
def add_torch_set(request: models.TorchSetRequest, database: Store) -> models.TorchSetAnswer:
    """Add a torch set."""
    given = TorchSet(request.name, request.amperage_a, request.gas, request.swirl)
    with database.write() as session:
        return answers.torch_set(sets.add_torch_set(session, given))


@router.put("/torch-sets/{torch_set_id}/cost")
def cost_set(
    torch_set_id: Id, request: models.PartsCostRequest, database: Store
) -> models.TorchSetAnswer:
    """What one set of parts costs, and how many starts it lasts here."""
    with database.write() as session:
        found = sets.torch_set(session, torch_set_id)
        was = {"parts_cost": found.parts_cost, "parts_starts": found.parts_starts}
        changes.note(session, "cost changed", "torch_set", torch_set_id, was)
        found.parts_cost, found.parts_starts = request.parts_cost, request.parts_starts
        session.add(found)
        session.flush()
        return answers.torch_set(found)


@router.delete("/fittings/{fitting_id}", status_code=204)
def take_back(fitting_id: Id, database: Store, lines: TheLines) -> None:
    """Undo a fitting that nothing was cut with yet."""
    with database.write() as session:
        table_id = fittings.take_back(session, fitting_id)
    from_thread.run(lines.fitted_anew, table_id)


@router.get("/tables/{table_id}/torch")
def get_torch(table_id: Id, session: Reading) -> models.TorchAnswer:
    """How the torch of a table can be turned, and how its jet stands."""
    return answers.torch(session, table_id)


@router.put("/tables/{table_id}/mount")
def describe_mount(table_id: Id, request: models.MountRequest, database: Store) -> models.TorchAnswer:
    """Say how the torch can be turned, and how upright the jet is wanted."""
    axes = tuple(alignment.MountAxis(**a.model_dump()) for a in request.mount.axes)
    if len({a.name for a in axes}) < len(axes):
        raise Refused("Two axes have one name: the turns could not be told apart.", "mount.axes")
    described = alignment.Mount(axes, request.mount.turns_about_itself)
    with database.write() as session:
        mounts.describe(session, table_id, described, request.target_deg)
        return answers.torch(session, table_id)


@router.post("/tables/{table_id}/slugs", status_code=201)
def note_slug(table_id: Id, request: models.SlugRequest, database: Store) -> models.TorchAnswer:
    """Note a round slug as it was read, kept on the good side of the cut."""
    u_deg = angle_gauge_u_deg(request.thickness_mm)
    with database.write() as session:
        set_id = fittings.fitted(session, table_id).torch_set_id
        swirl: Swirl = "clockwise"
        if set_id is not None:
            swirl = sets.torch_set(session, set_id).swirl
        side = good_side(swirl)
        read = [
            alignment.SlugReading(side, heading_that_faces(side, p.faces_deg), p.bevel_deg, u_deg)
            for p in request.places
        ]
        mounts.note_slug(session, table_id, request.key, request.thickness_mm, read)
        return answers.torch(session, table_id)


@router.put("/tables/{table_id}/slugs/{slug_id}/struck")
def strike_slug(
    table_id: Id, slug_id: Id, request: models.StruckRequest, database: Store
) -> models.TorchAnswer:
    """Strike a slug out, or put it back."""
    with database.write() as session:
        mounts.strike_slug(session, table_id, slug_id, out=request.out)
        return answers.torch(session, table_id)


@router.post("/tables/{table_id}/slugs/{slug_id}/seat", status_code=201)
def begin_seat(table_id: Id, slug_id: Id, database: Store, lines: TheLines) -> models.TorchAnswer:
    """Say that the torch was knocked or turned before a slug was read: a seat begins there, with all that came since."""
    with database.write() as session:
        mounts.begin_seat(session, table_id, slug_id)
        told = answers.torch(session, table_id)
    from_thread.run(lines.fitted_anew, table_id)
    return told


@router.delete("/tables/{table_id}/seat")
def end_seat(table_id: Id, database: Store, lines: TheLines) -> models.TorchAnswer:
    """Undo that: what is of the newest seat is of the one before again."""
    with database.write() as session:
        mounts.end_seat(session, table_id)
        told = answers.torch(session, table_id)
    from_thread.run(lines.fitted_anew, table_id)
    return told
