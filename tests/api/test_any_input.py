"""Any input the OpenAPI document allows or forbids: an answer of the document, and never a 500."""

import os
import unittest

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import status_code_conformance

from tests.shop import ShopOf

NO_DEADLINE_S = 3600  # on a busy machine the first file that is read apart waits for its processes
EXAMPLES = int(
    os.environ.get("ORTHOTOME_EXAMPLES", "12")
)  # of each operation; ./run bench abuse asks for more


@schemathesis.serializer("application/vnd.sqlite3", "image/vnd.dxf", "image/svg+xml", "image/*")
def _as_it_is(_context: object, value: object) -> bytes:
    return value if isinstance(value, bytes) else str(value).encode()


class AnyInput(unittest.TestCase):
    def test_no_operation_breaks(self) -> None:
        shop = ShopOf()
        self.addCleanup(shop.close)
        local = {"host": "127.0.0.1"}
        document = schemathesis.openapi.from_asgi("/api/openapi.json", shop.client.app, headers=local)
        for found in document.get_all_operations():
            operation = found.ok()

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


if __name__ == "__main__":
    unittest.main()
