"""What comes in: pictures and spreadsheets, small files that unpack to much."""

import io
import zipfile
import zlib
from threading import Thread
from time import sleep
from unittest.mock import patch

from django.test import SimpleTestCase
from PIL import Image

from heat.errors import HeatError
from web.ui import pictures
from web.ui.pictures import LOGO, PHOTO, STORED_PHOTO, drawn_anew
from web.ui.spreadsheets import spreadsheet, spreadsheet_rows


def png(width, height):
    """A PNG of one colour, drawn without unpacking it."""
    head = b"\x89PNG\r\n\x1a\n"
    part = lambda kind, body: len(body).to_bytes(4, "big") + kind + body + zlib.crc32(kind + body).to_bytes(4, "big")
    size = width.to_bytes(4, "big") + height.to_bytes(4, "big") + b"\x08\x02\x00\x00\x00"
    packer = zlib.compressobj(9)
    rows = b"".join(packer.compress(bytes(1 + 3 * width)) for _ in range(height)) + packer.flush()
    return head + part(b"IHDR", size) + part(b"IDAT", rows) + part(b"IEND", b"")


class Pictures(SimpleTestCase):
    def test_a_small_file_that_is_a_huge_picture_is_refused_before_it_is_unpacked(self):
        raw = png(12_000, 12_000)
        self.assertLess(len(raw), 600_000)
        with patch("PIL.ImageFile.ImageFile.load", side_effect=AssertionError("unpacked")):
            for wanted in (PHOTO, LOGO, STORED_PHOTO):
                with self.assertRaisesMessage(HeatError, "12000 x 12000"):
                    drawn_anew(raw, wanted)

    def test_inside_a_projects_file_no_larger_than_stored(self):
        out = io.BytesIO()
        Image.new("RGB", (2000, 1500)).save(out, "JPEG")
        self.assertEqual(len(drawn_anew(out.getvalue(), PHOTO)) > 0, True)
        with self.assertRaises(HeatError):
            drawn_anew(out.getvalue(), STORED_PHOTO)

    def test_one_at_a_time(self):
        at_work, most = [], []

        def slow(raw, wanted):
            at_work.append(1)
            most.append(len(at_work))
            sleep(0.05)
            at_work.pop()
            return b""

        with patch.object(pictures, "_drawn", slow):
            threads = [Thread(target=drawn_anew, args=(b"x", PHOTO)) for _ in range(5)]
            for thread in threads:
                thread.start()
            for thread in threads:
                thread.join()
        self.assertEqual((len(most), max(most)), (5, 1))


class Spreadsheets(SimpleTestCase):
    def test_out_and_in(self):
        raw = spreadsheet("Parts", [["name", "=1+1"], ["tank", 2.5]], bold_head=True, widths=(30,))
        self.assertEqual(spreadsheet_rows("x", raw, 10), [["name", "'=1+1"], ["tank", "2.5"]])

    def test_one_that_unpacks_to_much_more_is_refused(self):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
            packed.writestr("xl/sharedStrings.xml", b" " * 43_000_000)
        self.assertLess(len(out.getvalue()), 200_000)
        with self.assertRaisesMessage(HeatError, "43 MB"):
            spreadsheet_rows("bomb.xlsx", out.getvalue(), 10)
        for odd in (b"PK", b"PK\x03\x04" + b"x" * 90, raw_with_garbled_page()):
            self.assertRaises(HeatError, spreadsheet_rows, "odd.xlsx", odd, 10)


def raw_with_garbled_page():
    """A spreadsheet whose page is no XML."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(spreadsheet("A", [["x"]]))) as sound, zipfile.ZipFile(out, "w") as packed:
        for part in sound.infolist():
            garbled = part.filename.endswith("sheet1.xml")
            packed.writestr(part.filename, b"<worksheet><sheetData><row><c t='zz'" if garbled else sound.read(part))
    return out.getvalue()
