"""The scheme in the browser: begun by questions, moved by mouse and keys, kept through a killed server."""

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from urllib.request import urlopen

from django.conf import settings
from django.db import connection

from web.projects.models import Design, Project
from web.ui.tests.browser import DemoCase

ROOT = settings.ROOT


class SchemeCase(DemoCase):
    def retained(self, *path, letter="A"):
        value = Design.objects.get(project__name__startswith="Gannet", letter=letter).scheme["system"]
        for name in path:
            value = value[name]
        return value


class Scheme(SchemeCase):
    def test_questions_to_a_finished_design(self):
        self.page.fill("#id_name", "Net loft")
        self.page.click("text=Open it with a guided first estimate")
        self.page.wait_for_selector(".proposals")
        self.accessible()
        self.page.fill("#st-people", "6")
        self.page.press("#st-people", "Tab")
        self.page.wait_for_function("() => !document.querySelector('#start-form').matches('.htmx-request')")
        self.page.select_option("#st-care", "least")
        self.page.wait_for_selector(
            ".proposals th:has-text('drainback'):first-of-type ~ th, .proposals th:nth-child(2):has-text('drainback')"
        )
        self.page.wait_for_selector("text=less than half of the")
        promised = self.page.inner_text(".proposals td.large >> nth=0")
        self.page.click("button:has-text('Open as a design') >> nth=0")
        self.page.wait_for_selector("svg.scheme")
        self.assertIn("Drainback", self.page.get_attribute("svg.scheme", "aria-label"))
        self.assertEqual(self.figure().split()[0], promised.split()[0])
        design = Design.objects.get(project__name="Net loft", letter="B")
        self.assertEqual(
            (design.scheme["system"]["kind"], Project.objects.get(name="Net loft").survey["demand"]["people"]),
            ("drainback", 6),
        )

    def test_a_sensor_and_a_coil_are_dragged_and_stepped(self):
        self.open_scheme()
        grip = self.page.locator("[data-height='system.control.sensor_share']")
        box = grip.locator("rect").bounding_box()
        x, y = box["x"] + 4, box["y"] + 4
        pump = self.figure("yield")
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for step in range(1, 6):
            self.page.mouse.move(x, y - 20 * step)
        self.page.wait_for_function(
            "before => document.querySelector('[data-tally=yield] .figure').innerText !== before", arg=pump
        )
        self.assertEqual(self.retained("control", "sensor_share"), 0)  # dragged, not yet let go
        self.updated(lambda: self.page.mouse.up())
        self.assertAlmostEqual(self.retained("control", "sensor_share"), 0.5, delta=0.06)
        self.assertNotEqual(self.figure("yield"), pump)
        self.page.focus("[data-height='system.coil.top_share']")
        self.updated(lambda: self.page.keyboard.press("Shift+ArrowUp"))
        self.assertAlmostEqual(self.retained("coil", "top_share"), 0.45, delta=0.001)
        self.assertEqual(self.page.evaluate("document.activeElement.dataset.height"), "system.coil.top_share")
        self.accessible()
        self.page.keyboard.press("Home")  # below the coil's own foot: refused in words, nothing lost
        self.page.wait_for_selector(".message-here:has-text('Coil, upper end')")
        self.updated(lambda: self.page.click(".message-here button[hx-vals*=changes]"))
        self.page.wait_for_selector(".message-here", state="detached")
        self.assertAlmostEqual(self.retained("coil", "top_share"), 0.3, delta=0.001)

    def test_a_part_is_swapped_and_another_added(self):
        self.open_scheme()
        self.page.click("button[hx-get*='part=collector']")
        self.page.click("aside.collector >> text=what else it could be")
        self.page.wait_for_selector(".swaps")
        self.accessible()
        self.updated(lambda: self.page.click("button[hx-vals*='entry collector tube_heatpipe']"))
        self.page.click("text=its values")
        self.page.wait_for_selector(".taken:has-text('Evacuated tubes')")
        self.page.click("button[hx-get*='part=add']")
        self.page.wait_for_selector(".swaps")
        self.updated(lambda: self.page.click("button[hx-vals*='switch second store']"))
        self.page.wait_for_selector(".design-left.two")
        self.accessible()

    def test_keyboard_alone_from_sign_in_to_a_changed_design(self):
        press = self.page.keyboard.press

        def tab_to(wanted):
            for _ in range(80):
                press("Tab")
                if self.page.evaluate(f"!!document.activeElement.matches({wanted!r})"):
                    return
            self.fail(f"{wanted} is not reached by Tab")

        tab_to("td a.title")
        press("Enter")
        self.page.wait_for_selector(".account")
        tab_to("[id='d-system.collector.count']")
        self.updated(lambda: press("ArrowUp"))
        self.assertEqual(self.retained("collector", "count"), 3)
        tab_to("[data-height='system.control.sensor_share']")
        self.updated(lambda: press("ArrowUp"))
        self.assertAlmostEqual(self.retained("control", "sensor_share"), 0.01)
        press("/")
        self.page.keyboard.type("all accounts")
        press("Enter")
        self.page.wait_for_selector("#books")
        tab_to("[data-fold='part-store']")
        press("Enter")
        self.page.wait_for_selector("#part-store:not([hidden])")
        self.accessible()
        self.updated(lambda: press("Control+z"))
        self.updated(lambda: press("Control+z"))
        self.assertEqual(self.retained("collector", "count"), 2)

    def test_a_key_for_every_frequent_act(self):
        self.open_scheme()
        press = self.page.keyboard.press
        self.page.wait_for_selector(".steps td")
        press("k")
        self.page.wait_for_selector("aside[aria-label='How it works'] .swaps")
        press("a")
        self.page.wait_for_selector("aside[aria-label='Add or leave out'] .swaps")
        self.page.click("button[hx-get*='part=loop']")
        self.page.wait_for_selector("aside[aria-label='Loop and pump']")
        press("o")
        self.page.wait_for_selector(".swaps:has-text('Fixed speed')")
        press("f")
        self.page.wait_for_selector(".swaps", state="detached")
        press("c")
        self.page.wait_for_selector("text=copy of roof flat plate")
        press(",")
        self.page.wait_for_selector("a.design:has-text('copy of')")
        press(".")
        self.page.wait_for_selector("button.design:has-text('copy of')")
        self.page.wait_for_selector(".steps td")
        self.updated(lambda: (self.page.locator("[id='d-system.store.volume_l']").fill("333"), press("Enter")))
        self.page.evaluate("() => document.activeElement.blur()")
        press("s")
        self.page.wait_for_selector("text=nothing changed since")
        press("v")
        self.page.wait_for_selector("#books")
        press("v")
        self.page.wait_for_selector("svg.scheme")
        press("b")
        self.page.wait_for_selector(".proposals")

    def test_us_units_on_drawing_lists_and_bench(self):
        self.open_scheme()
        with self.page.expect_navigation():  # until its scripts listen
            self.page.click("button[value=us]")
        self.page.wait_for_selector("text=Btu/h °F")
        self.page.click("button[hx-get*='part=collector']")
        self.page.click("aside.collector >> text=what else it could be")
        self.page.wait_for_selector(".swaps:has-text('ft²')")
        self.page.goto(self.live_server_url + "/catalogue/builder")
        self.accessible()
        emits = self.page.locator("#b-emittance")
        emits.fill("0.05")
        emits.press("Tab")
        self.page.wait_for_selector("td:text-matches('3[4-9][0-9] °F')")
        self.page.fill("main input[name=name]", "Selective sheet")
        self.page.click("text=Keep as my own")
        self.page.wait_for_selector("th:has-text('Selective sheet')")
        self.accessible()
        self.page.goto(self.live_server_url + "/catalogue/standing")
        self.page.select_option("select[name=kind]", "batch_tank")
        self.page.wait_for_selector(".standing")
        self.accessible()


class KilledServer(SchemeCase):
    """A server of its own on the test's database, killed while someone types."""

    def serve(self):
        if not self.port:
            with socket.socket() as probe:
                probe.bind(("127.0.0.1", 0))
                self.port = probe.getsockname()[1]
        command = [
            str(Path(sys.executable).with_name("gunicorn")),
            "-b",
            f"127.0.0.1:{self.port}",
            "--threads",
            "4",
            "web.config.wsgi",
        ]
        environment = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "web.config.tests.live_settings",
            "LEDGER_TEST_DATABASE": connection.settings_dict["NAME"],
        }
        self.server = subprocess.Popen(command, cwd=ROOT, env=environment, stderr=subprocess.DEVNULL, process_group=0)
        for _ in range(300):
            try:
                urlopen(f"http://127.0.0.1:{self.port}/health")
                return
            except OSError:
                time.sleep(0.1)
        self.fail("the second server did not start")

    def kill(self):
        os.killpg(self.server.pid, signal.SIGKILL)
        self.server.wait()

    def test_what_was_typed_arrives_when_the_server_is_back_and_undo_still_works(self):
        self.port = 0
        self.serve()
        self.ours.append(f"http://127.0.0.1:{self.port}")
        self.addCleanup(self.kill)
        page = self.page
        page.goto(f"http://127.0.0.1:{self.port}/sign-in")
        page.fill("#id_username", "designer")
        page.fill("#id_password", "merrow-coast")
        page.click("button")
        self.open_scheme()
        field = page.locator("[id='d-system.store.volume_l']")
        field.fill("450")
        self.kill()
        field.press("Enter")
        page.wait_for_selector("text=No answer from the server")
        self.assertEqual(field.input_value(), "450")
        self.assertEqual(self.retained("store", "volume_l"), 300)
        self.updated(self.serve)
        self.assertEqual(self.retained("store", "volume_l"), 450)
        self.updated(lambda: page.keyboard.press("Control+z"))  # an edit made before and after is undone as ever
        self.assertEqual(self.retained("store", "volume_l"), 300)
        self.complaints.clear()
