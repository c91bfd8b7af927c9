"""Processes that were forked from one which has begun the process that the tuner and the readers are forked from."""

from multiprocessing import forkserver, resource_tracker


def use_the_family() -> None:
    """In a forked process: use the one of the parent, which the standard library would look for among its own children."""
    if forkserver._forkserver._forkserver_pid is not None:  # type: ignore[attr-defined]
        alive = resource_tracker.ensure_running
        forkserver._forkserver.ensure_running = forkserver.ensure_running = alive  # type: ignore[method-assign]
