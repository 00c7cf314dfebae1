"""Rules of the core: no interface code, documented units, a valid document, a current cache key."""

import ast
import inspect
import json
import pkgutil
import shutil
from importlib import import_module
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

import jsonschema
from pydantic import ValidationError

import heat
from heat.common.compiled import ABOVE, PACKAGE, source_hash
from heat.design import Design, allowed_range, bounds, field_at, parse, refusals, schema
from heat.errors import HeatError, InputError

SOURCES = source_hash()
FORBIDDEN = {"django", "web", "psycopg", "gunicorn", "htmx"}
INNER_STEPS = {"vessel", "heaters", "hours", "loop", "parts", "plain", "steps", "taps", "uses"}


def modules():
    for found in pkgutil.walk_packages(heat.__path__, "heat."):
        if ".tests" not in found.name:
            yield import_module(found.name)


class Rules(TestCase):
    def test_the_core_imports_no_interface(self):
        for path in PACKAGE.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                names = []
                if isinstance(node, ast.Import):
                    names = [a.name for a in node.names]
                elif isinstance(node, ast.ImportFrom):
                    names = [node.module or ""]
                for name in names:
                    self.assertNotIn(name.split(".")[0], FORBIDDEN, f"{path.name} imports {name}")

    def test_public_functions_describe_their_parameters_and_results(self):
        """The linter finds what a section lacks; here that there is one. The year's inner steps are typed instead."""
        for module in modules():
            inner = module.__name__.startswith("heat.simulation.") and module.__name__.split(".")[-1] in INNER_STEPS
            for name, item in vars(module).items():
                function = getattr(item, "py_func", item)
                if name.startswith("_") or not inspect.isfunction(function) or function.__module__ != module.__name__:
                    continue
                text, signature = inspect.getdoc(function) or "", inspect.signature(function)
                with self.subTest(function=f"{module.__name__}.{name}"):
                    self.assertTrue(text)
                    if inner or module.__name__ == "heat.cli":
                        continue
                    if signature.parameters:
                        self.assertIn("Parameters\n----------", text)
                    if signature.return_annotation not in (None, "None", inspect.Signature.empty):
                        self.assertTrue(
                            "Returns\n-------" in text
                            or not signature.parameters
                            or "Iterator" in str(signature.return_annotation)
                        )

    def test_a_changed_source_has_another_cache(self):
        """numba would go on with old code: a change of any source file, even in a called function, names another
        folder."""
        with TemporaryDirectory() as folder:
            copy = Path(folder) / "heat"
            shutil.copytree(PACKAGE, copy, ignore=shutil.ignore_patterns("tests", "__pycache__", "data"))
            with patch("heat.common.compiled.PACKAGE", copy):
                self.assertEqual(source_hash(), SOURCES)
                kernels = source_hash(above=False)
                (copy / "studies" / "plans.py").open("a").write("# a comment\n")
                self.assertNotEqual(source_hash(), SOURCES)
                self.assertEqual(source_hash(above=False), kernels)
                (copy / "store" / "layers.py").open("a").write("# a comment\n")
                self.assertNotEqual(source_hash(above=False), kernels)

    def test_nothing_a_kernel_is_made_of_imports_what_lies_above(self):
        above = {f"heat.{name.removesuffix('.py')}" for name in ABOVE}
        for path in PACKAGE.rglob("*.py"):
            inside = path.relative_to(PACKAGE).parts
            if inside[0] in (*ABOVE, "tests"):
                self.assertNotIn("kernel(", path.read_text() if inside[0] != "tests" else "", path)
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.ImportFrom):
                    names = {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
                    self.assertFalse([n for n in names for a in above if n == a or (n or "").startswith(a + ".")], path)


class Document(TestCase):
    def test_defaults_are_complete_and_valid(self):
        document = Design().model_dump(mode="json")
        jsonschema.validate(document, schema())
        self.assertEqual(parse(document), Design())

    def test_the_committed_schema_is_current(self):
        committed = json.loads((PACKAGE.parent / "docs" / "design.schema.json").read_text())
        self.assertEqual(committed, json.loads(json.dumps(schema())))

    def test_every_number_has_unit_and_range(self):
        def walk(model, path):
            for name, field in model.model_fields.items():
                here = f"{path}.{name}".strip(".")
                if hasattr(field.annotation, "model_fields"):
                    walk(field.annotation, here)
                elif field.annotation is float:
                    low, high = bounds(here)
                    self.assertIsNotNone(low, here)
                    self.assertIsNotNone(high, here)
                    self.assertTrue(field.json_schema_extra or "share" in here, here)

        walk(Design, "")

    def refused(self, document, path, pattern):
        with self.assertRaises(InputError) as caught:
            parse(document)
        self.assertEqual(caught.exception.name, path)
        self.assertRegex(str(caught.exception), pattern)

    def test_refusals_name_path_value_and_range(self):
        self.refused({"plane": {"tilt_deg": 200}}, "plane.tilt_deg", "200.* 0 to 90 deg")
        self.refused({"system": {"store": {"volume_l": 0}}}, "system.store.volume_l", "5 to 100000 L")
        self.refused({"system": {"store": {"volume_l": None}}}, "system.store.volume_l", "5 to 100000")
        self.refused({"plane": {"tilt_deg": float("nan")}}, "plane.tilt_deg", "0 to 90")
        self.refused({"plane": {"tip": 3}}, "plane.tip", "no such field")
        self.refused({"demand": {"hour_shape": [0] * 24}}, "demand.hour_shape", "some hour of the day")
        coil = {"bottom_share": 0.5, "top_share": 0.4}
        self.refused({"system": {"coil": coil}}, "system.coil.top_share", "above the lower end")
        control = {"on_k": 3, "off_k": 4}
        self.refused({"system": {"control": control}}, "system.control.off_k", "smaller difference")
        self.refused(
            {"system": {"loop": {"supply_pipe": {"outer_diameter_mm": 6, "wall_mm": 4}}}},
            "system.loop.supply_pipe.wall_mm",
            "thinner",
        )

    def test_unknown_version(self):
        with self.assertRaisesRegex(HeatError, "version 99; this engine reads versions 1 to 4"):
            parse({"version": 99})

    def test_frozen(self):
        with self.assertRaises(ValidationError) as caught:
            Design().plane.tilt_deg = 3
        self.assertTrue(refusals(caught.exception))

    def test_paths(self):
        self.assertEqual(allowed_range("plane.tilt_deg"), "0 to 90 deg")
        self.assertEqual(bounds("demand.hour_shape.3"), (0.0, 1000.0))
        for bad in ("plane.nothing", "", "system.store.volume_l.x"):
            with self.assertRaises(KeyError):
                field_at(bad)
