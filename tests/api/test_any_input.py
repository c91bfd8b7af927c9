"""Any input the OpenAPI document allows or forbids: an answer of the document, and never a 500."""

import unittest

import schemathesis
from hypothesis import HealthCheck, given, settings
from schemathesis.checks import not_a_server_error

from tests.shop import ShopOf

EXAMPLES = 12


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
                answer = case.call(headers=local)
                case.validate_response(answer, checks=[not_a_server_error])

            with self.subTest(operation.label):
                given(case=operation.as_strategy())(check)()


if __name__ == "__main__":
    unittest.main()
