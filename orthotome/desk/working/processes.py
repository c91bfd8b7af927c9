"""The processes beside the server: the tuner's, and one for each file from outside.

Each is forked, in some milliseconds, from one process that has imported what they work with and does nothing else. That one is
begun before anything else is imported, so that it imports on one core while the server does on another.
"""

import multiprocessing
from multiprocessing import forkserver

PROCESSES = multiprocessing.get_context("forkserver")
PROCESSES.set_forkserver_preload(
    [
        "orthotome.desk.bench.thinking",
        "orthotome.core.tuner.advise",
        "orthotome.core.tuner.questions",
        "orthotome.desk.working.apart",
        "orthotome.formats.book.recipe",
        "orthotome.formats.height.trace_csv",
        "orthotome.formats.log.photo",
        "orthotome.formats.pieces.drawing",
        "orthotome.formats.programs.answering",
        "orthotome.formats.torch.run",
        "orthotome.formats.trial.campaign",
        "shapely",
        "typer",  # the command that was begun is looked at again in each of them
    ]
)


def begin() -> None:
    """Begin the process that the others are forked from, and do not wait for it."""
    forkserver.ensure_running()
