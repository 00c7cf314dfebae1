"""What stays short: modules, functions and lines of templates. A longer function stands here with its reason."""

import ast
import re
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).parents[3]
MODULE_LINES, FUNCTION_LINES, TEMPLATE_LINE = 450, 45, 110
"""Docstrings count for neither. Lines of a function are its statements as the parser prints them, whatever the
formatter makes of them."""
LONG = {
    "heat/tests/plant/physics.py _run": "one compiled loop of a program that shares nothing with the engine",
    "heat/simulation/loop.py natural_flow": "one search for a root: bracket, halve and report share every value",
    "heat/simulation/steps.py circulate": "the loop once around, in the order of the flow",
    "heat/simulation/taps.py serve_tap": "the ways of drawing share the accounts they end in",
    "heat/sun/mirror.py throw": "every facet's ray, one after the other, in a kernel",
    "web/presentation/plumbing.py _loop": "the loop's pipes in the order they are drawn",
    "web/steps/demand/uses.py _detail": "what one page declares",
    "web/steps/site/tests/test_browser.py test_from_nothing_to_a_ranking": "one path through four pages",
}


def sources():
    return [p for folder in ("heat", "web", "scripts") for p in sorted((ROOT / folder).rglob("*.py"))]


DOCUMENTED = ast.Module | ast.ClassDef | ast.FunctionDef | ast.AsyncFunctionDef


def docstrings(tree):
    """The statements that are docstrings, with what they stand in."""
    for node in ast.walk(tree):
        if isinstance(node, DOCUMENTED) and ast.get_docstring(node) is not None:
            yield node, node.body[0]


def code_lines(text):
    """Lines of a module without those of its docstrings."""
    return text.count("\n") - sum(
        docstring.end_lineno - docstring.lineno + 1 for _, docstring in docstrings(ast.parse(text))
    )


def function_lines(function):
    """Lines of a function's statements, without its docstrings."""
    for node, docstring in list(docstrings(function)):
        node.body.remove(docstring)
    return len(ast.unparse(function).splitlines())


def indivisible(line):
    """Whether a template's line is one attribute or one of Django's tags, which cannot go on in the next."""
    bare = re.sub(r"\{%.*?%\}|\{\{.*?\}\}", "", line)
    for quoted in (r"'[^']*'", r'"[^"]*"'):
        bare = re.sub(quoted, "", bare)
    return len(bare.split()) <= 1


class Sizes(TestCase):
    def test_modules(self):
        long = {str(p.relative_to(ROOT)): n for p in sources() if (n := code_lines(p.read_text())) > MODULE_LINES}
        self.assertEqual(long, {})

    def test_functions_are_short_or_named_with_a_reason(self):
        long = {
            f"{path.relative_to(ROOT)} {node.name}"
            for path in sources()
            for node in ast.walk(ast.parse(path.read_text()))
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef) and function_lines(node) > FUNCTION_LINES
        }
        self.assertEqual(long, set(LONG))

    def test_lines_of_templates(self):
        for path in sorted((ROOT / "web").rglob("templates/**/*.html")):
            for number, line in enumerate(path.read_text().splitlines(), 1):
                if len(line) > TEMPLATE_LINE:
                    self.assertTrue(indivisible(line), f"{path.relative_to(ROOT)}:{number} can be parted")
