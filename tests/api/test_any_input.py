"""Any input the OpenAPI document allows or forbids: an answer of the document, and never a 500 or a closed room."""

import json
import os
import unittest
from collections.abc import Callable
from pathlib import Path

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import status_code_conformance

from tests.api.test_extremes import rooms
from tests.enough import cases
from tests.shop import HALF_WAY, ShopOf

NO_DEADLINE_S = 3600  # on a busy machine the first file that is read apart waits for its processes
EXAMPLES = int(os.environ.get("ORTHOTOME_EXAMPLES", len(cases(4, 30))))
"""Of each operation; ``./run bench abuse`` asks for more."""
PUBLISHED = Path(__file__).parents[2] / "docs" / "openapi.json"
"""What the application says of itself (``tests.formats.test_files`` holds it to that); worked out anew it takes seconds a part."""


@schemathesis.serializer("application/vnd.sqlite3", "image/vnd.dxf", "image/svg+xml", "image/*")
def _as_it_is(_context: object, value: object) -> bytes:
    return value if isinstance(value, bytes) else str(value).encode()


class AnyInput(unittest.TestCase):
    """Every operation of the document, in four parts that run side by side."""

    def test_no_operation_that_reads_breaks_first_half(self) -> None:
        self.every(lambda method, n: method == "GET" and n % 2 == 0)

    def test_no_operation_that_reads_breaks_second_half(self) -> None:
        self.every(lambda method, n: method == "GET" and n % 2 == 1)

    def test_no_operation_that_writes_breaks_first_half(self) -> None:
        self.every(lambda method, n: method != "GET" and n % 2 == 0)

    def test_no_operation_that_writes_breaks_second_half(self) -> None:
        self.every(lambda method, n: method != "GET" and n % 2 == 1)

    def every(self, chosen: Callable[[str, int], bool]) -> None:
        """Try those of the operations."""
        shop = ShopOf()
        self.addCleanup(shop.close)
        local = {"host": "127.0.0.1"}
        shop.client.app.openapi_schema = json.loads(PUBLISHED.read_text())
        document = schemathesis.openapi.from_asgi("/api/openapi.json", shop.client.app, headers=local)
        for n, found in enumerate(document.get_all_operations()):
            operation = found.ok()
            if not chosen(operation.method.upper(), n):
                continue

            @settings(
                max_examples=EXAMPLES,
                database=None,
                derandomize=True,
                suppress_health_check=list(HealthCheck),
            )
            def check(case: schemathesis.Case) -> None:
                answer = case.call(headers=local, timeout=NO_DEADLINE_S)
                case.validate_response(answer, checks=[not_a_server_error, status_code_conformance])

            with self.subTest(operation.label):
                given(case=operation.as_strategy())(check)()
        for path in rooms(HALF_WAY):  # whatever was taken, what is there can still be looked at
            with self.subTest(path):
                answer = shop.client.get(f"/api{path}")
                self.assertEqual(answer.status_code, 200, answer.text[:300])


if __name__ == "__main__":
    unittest.main()
