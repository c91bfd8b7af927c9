"""What a screen says of a cut, as core thinks of it."""

from orthotome.api.log import models
from orthotome.core.trial.campaign import Cut, Dross, EdgeReading


def cut_of(request: models.CutRequest) -> Cut:
    """The cut that a screen says was made, without what is no evidence."""
    plain = request.model_dump(exclude={"key", "kind", "looks", "note", "edges", "dross", "insisted"})
    dross = request.dross
    return Cut(
        id="",
        **plain,
        edges=tuple(edge_of(e) for e in request.edges),
        dross=None if dross is None else tuple(Dross(d.kind, d.grade) for d in dross),
    )


def edge_of(read: models.EdgeRead) -> EdgeReading:
    """A reading as the tuner thinks of it."""
    return EdgeReading(**read.model_dump(exclude={"told"}))
