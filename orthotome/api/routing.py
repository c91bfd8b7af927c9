"""The routes of a room: shared by every application of a process, and each made ready when it is first asked for.

Making ready all of some two hundred routes (their models, their parameters) takes longer than importing the rest of Orthotome; a
Bench asks for a dozen. Whatever walks through all of them, as the OpenAPI document does, makes all of them ready.
"""

import threading
import warnings
from collections.abc import Callable, Sequence
from enum import Enum
from typing import Any

from fastapi import APIRouter, Depends, FastAPI
from fastapi.routing import APIRoute
from pydantic.warnings import UnsupportedFieldAttributeWarning
from starlette.routing import compile_path

from orthotome.api.depends import speak_the_shops_units
from orthotome.api.problems import PROBLEMS

# FastAPI ignores this of every parameter it makes ready; of what is made ready later it has to be ignored then.
warnings.filterwarnings("ignore", category=UnsupportedFieldAttributeWarning)


_MAKING_READY = threading.RLock()


class RouteWhenAsked(APIRoute):
    """A route that knows its address and methods, and works out the rest of itself when something asks for more."""

    def __init__(
        self,
        path: str,
        endpoint: Callable[..., Any],
        *,
        name: str | None = None,
        methods: set[str] | list[str] | None = None,
        **more: Any,
    ) -> None:
        self.path, self.endpoint, self.name = path, endpoint, name or endpoint.__name__
        self.methods = {method.upper() for method in methods or ("GET",)}
        self.path_regex, self.path_format, self.param_convertors = compile_path(path)
        self._more = more

    def __getattr__(self, asked: str) -> Any:
        """Only what is not there yet comes here; several threads may ask at once, and a route that cannot be made says why each time."""
        with _MAKING_READY:
            more = self.__dict__.pop("_more", None)
            if more is not None:
                try:
                    super().__init__(
                        self.path, self.endpoint, name=self.name, methods=self.methods, **more
                    )
                except Exception:
                    self._more = more
                    raise
        if asked not in self.__dict__:
            raise AttributeError(asked)
        return self.__dict__[asked]


def room(*tags: str | Enum, in_the_shops_units: bool = True) -> APIRouter:
    """The routes of a room, under /api; their sentences speak the shop's units unless there are none."""
    return APIRouter(
        prefix="/api",
        tags=list(tags),
        dependencies=[Depends(speak_the_shops_units)] if in_the_shops_units else [],
        responses=PROBLEMS,
        route_class=RouteWhenAsked,
        generate_unique_id_function=lambda route: route.name,
    )


def open_rooms(app: FastAPI, rooms: Sequence[APIRouter]) -> None:
    """Let the application answer for these rooms.

    Their routes are taken as they are: including a router makes a copy of every one, for each application anew.
    """
    for opened in rooms:
        app.router.routes.extend(opened.routes)
