"""What a person types: coordinates, pitches, bearings, dates, points, and tables pasted whole."""

from unittest import TestCase

from web.editor.typed import angle, declination, pitch, typed_pairs, typed_spans
from web.projects.tests.helpers import DeskCase
from web.ui.calendar import day_number, day_text

NAMES = ("bearing_deg", "altitude_deg")


def pairs(text):
    return [tuple(p.values()) for p in typed_pairs(text, "site.skyline")]


class Reading(TestCase):
    def test_angles(self):
        for text, value in (
            ("46° 24.0′ N", 46.4),
            ("11 36 W", -11.6),
            ("-11° 36'", -11.6),
            ("S 33 12", -33.2),
            ("46°24'36\"N", 46.41),
            ("46,5° N", 46.5),
            ("12.5 E", 12.5),
        ):
            self.assertAlmostEqual(angle(text), value, places=6, msg=text)
        self.assertIsNone(angle("46.4"))
        self.assertIsNone(angle("harbour"))
        with self.assertRaisesRegex(ValueError, "0 to 60"):
            angle("46 75 N")

    def test_roof_pitch(self):
        """6 in 12 is 26.57°, 12 in 12 is 45°."""
        self.assertEqual((pitch("6:12"), pitch("12/12"), pitch("6 in 12")), (26.57, 45.0, 26.57))
        self.assertIsNone(pitch("26.5"))
        self.assertEqual(pitch("3:0"), 90.0)

    def test_dates(self):
        self.assertEqual(
            [day_number(t) for t in ("1 Jan", "28 Feb", "Mar 1", "24.12.", "31 Dec")], [1, 59, 60, 358, 365]
        )
        self.assertEqual([day_text(d) for d in (1, 59, 60, 365)], ["1 Jan", "28 Feb", "1 Mar", "31 Dec"])
        self.assertEqual(typed_spans("24 Dec - 2 Jan, 1 Aug to 14 Aug; 5 May"), [[358, 2], [213, 226], [125, 125]])
        self.assertEqual(typed_spans("  "), [])
        for bad in ("30 Feb", "soon", "24 Dec - 1 Jan - 3 Jan", "40.12."):
            with self.assertRaises(ValueError):
                typed_spans(bad)

    def test_points_in_every_usual_form(self):
        expected = [(90.0, 12.0), (135.5, 20.0)]
        for text in (
            "90 12, 135.5 20",
            "90 12\n135.5 20",
            "90,12\n135.5,20",
            "bearing;altitude\n90;12\n135,5;20",
            "Bearing (deg)\tHeight\n90\t12\n135.5\t20\n\n",
            "90, 12\n135.5, 20",
            "90° 12°, 135.5° 20°",
            "90 12; 135.5 20",
        ):
            self.assertEqual(pairs(text), expected, text)
        self.assertEqual(pairs("350 8, 370 9, -20 5"), [(350.0, 8.0), (10.0, 9.0), (340.0, 5.0)])  # across north
        self.assertEqual(pairs("90 12"), [(90.0, 12.0)])
        self.assertEqual(pairs(""), [])
        with self.assertRaisesRegex(ValueError, "Point 2, “135”"):
            pairs("90 12, 135")


class Typing(DeskCase):
    def test_coordinates_pitch_and_holidays_by_hand(self):
        self.edit("site.latitude_deg", "46° 12.0′ N", screen="site")
        self.edit("plane.tilt_deg", "6:12", screen="site")
        self.edit("demand.holidays", "24 Dec - 2 Jan", screen="demand")
        document = self.document()
        self.assertAlmostEqual(document["site"]["latitude_deg"], 46.2)
        self.assertEqual(document["plane"]["tilt_deg"], 26.57)
        self.assertEqual(document["demand"]["holidays"], [[358, 2]])
        self.assertContains(self.client.get(self.url("demand?view=uses")), 'value="24 Dec - 2 Jan"')

    def test_odd_text_is_cleaned_or_refused(self):
        self.client.post(self.url("rows"), {"path": "site.trees", "screen": "site"}, headers={"HX-Request": "true"})
        self.assertEqual(self.edit("site.trees.0.name", "old\0 oak", screen="site").status_code, 200)
        self.assertEqual(self.document()["site"]["trees"][0]["name"], "old oak")
        self.assertEqual(self.edit("site.trees.0.name", "x" * 80, screen="site").status_code, 422)
        for path in (
            "demand.people@compass",
            "site.trees",
            "site.trees.7.name",
            "demand.circulation",
            "weather",
            "..",
            "site.planes.0",
        ):
            with self.subTest(path=path):
                self.assertIn(self.edit(path, "5", screen="site").status_code, (200, 422))
        self.assertEqual(self.document()["demand"]["people"], 4)

    def test_latitude_95_and_a_date_that_is_none(self):
        answer = self.edit("site.latitude_deg", "95", screen="site")
        self.assertContains(answer, "Allowed: -66 to 66 °", status_code=422)
        self.assertContains(answer, 'value="95"', status_code=422)
        answer = self.edit("demand.holidays", "30 Feb", screen="demand")
        self.assertContains(answer, "is not a day of the year", status_code=422)
        self.assertContains(answer, 'value="30 Feb"', status_code=422)

    def test_a_bearing_read_by_compass_is_turned_to_true_north(self):
        self.edit("plane.azimuth_deg@compass", "170", screen="site")
        document = self.document()
        self.assertAlmostEqual(document["plane"]["azimuth_deg"], 170 + declination(document["site"]), places=1)
        self.assertContains(self.client.get(self.url("site?view=planes")), 'value="170"')
        answer = self.edit("plane.azimuth_deg@compass", "north", screen="site")
        self.assertEqual(answer.status_code, 422)
