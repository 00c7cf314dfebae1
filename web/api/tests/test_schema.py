"""The interface holds to its own document, whatever is sent: made-up requests for every address, seeded, bounded."""

import schemathesis
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from web.api.tests.test_api import ApiCase
from web.jobs.models import Spent

EACH = 12
"""Made-up requests of each address."""
CHECKS = (not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance)


class Schema(ApiCase):
    def setUp(self):
        super().setUp()
        for signal in (request_started, request_finished):  # the test's own connection stays open
            signal.disconnect(close_old_connections)
            self.addCleanup(signal.connect, close_old_connections)

    def test_every_address_holds_to_the_document(self):
        found = schemathesis.openapi.from_wsgi(
            "/api/openapi.json", get_wsgi_application(), headers={"Authorization": f"Bearer {self.mine}"}
        )
        requested = 0
        for one in found.get_all_operations():
            operation = one.ok()

            @given(case=operation.as_strategy())
            @settings(
                max_examples=EACH,
                deadline=None,
                database=None,
                derandomize=True,
                suppress_health_check=list(HealthCheck),
                phases=[Phase.explicit, Phase.generate],
            )
            def lock(case):
                nonlocal requested
                requested += 1
                for name, value in {"pk": self.project.pk, "letter": "A"}.items():
                    if requested % 2 and name in (case.path_parameters or {}):
                        case.path_parameters[name] = value
                Spent.objects.all().delete()
                answer = case.call(
                    headers={"Authorization": f"Bearer {self.mine}", "Host": "localhost", "Accept-Encoding": "identity"}
                )
                case.validate_response(answer, checks=CHECKS)

            with self.subTest(address=operation.label):
                lock()
        self.assertGreater(requested, 100)
