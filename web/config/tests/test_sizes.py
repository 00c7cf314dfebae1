"""What stays short: modules, functions and lines of templates. A longer function stands here with its reason."""

import ast
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).parents[3]
MODULE_LINES, FUNCTION_LINES, TEMPLATE_LINE = 400, 60, 160
LONG = {
    "heat/prepare.py prepare_parts": "one part after the other, each from its place in the document",
    "heat/design/contradictions.py warnings": "a list of independent warnings, each two lines",
    "heat/tests/random_designs.py document": "a whole random document in the order of its fields",
    "heat/run/loop.py natural_flow": "one search for a root: bracket, halve and report share every value",
    "heat/run/steps.py circulate": "the loop once around, in the order of the flow",
    "heat/run/taps.py serve_tap": "the ways of drawing share the accounts they end in",
    "web/present/account.py account": "one page of the ledger, column by column",
    "web/present/drawing.py drawing": "one drawing, piece by piece in the order they overlap",
    "web/present/tally.py explanations": "the explanation behind each figure of the tally, one after the other",
    "web/steps/site/planes.py planes_view": "what one page declares",
    "web/steps/site/horizon.py horizon_view": "what one page declares",
    "web/steps/site/tests/test_browser.py test_from_nothing_to_a_ranking": "one path through four pages",
    "web/catalogue/bench.py bench_page": "what one page declares",
}


def sources():
    return [p for folder in ("heat", "web", "scripts") for p in sorted((ROOT / folder).rglob("*.py"))]


class Sizes(TestCase):
    def test_modules(self):
        long = {str(p.relative_to(ROOT)): n for p in sources() if (n := p.read_text().count("\n")) > MODULE_LINES}
        self.assertEqual(long, {})

    def test_functions_are_short_or_named_with_a_reason(self):
        long = {
            f"{path.relative_to(ROOT)} {node.name}"
            for path in sources()
            for node in ast.walk(ast.parse(path.read_text()))
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
            and (node.end_lineno or node.lineno) - node.lineno + 1 > FUNCTION_LINES
        }
        self.assertEqual(long, set(LONG))

    def test_lines_of_templates(self):
        for path in sorted((ROOT / "web").rglob("templates/**/*.html")):
            for number, line in enumerate(path.read_text().splitlines(), 1):
                self.assertLessEqual(len(line), TEMPLATE_LINE, f"{path.relative_to(ROOT)}:{number}")
