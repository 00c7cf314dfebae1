"""Finding a place: towns by name, coordinates by their many spellings, and words for what is neither."""

from collections import Counter

from django.test import TestCase

from web.places.coordinates import angle, both
from web.places.models import Filled, Town
from web.places.tests.samples import made_up_towns
from web.places.towns import fill, named, search, shipped
from web.places.where import Unclear, degrees, nearest, place_of
from web.places.words import folded


class Towns(TestCase):
    @classmethod
    def setUpTestData(cls):
        made_up_towns()

    def test_found_by_its_beginning_by_another_name_and_with_a_typo(self):
        for text in ("as", "Asker", "ASKERBY", "askarbi", "Askreby", "askerby, upper", "Askerby, Merrow", "  askerby "):
            self.assertEqual([t.name for t in search(text)], ["Askerby"], text)
        self.assertEqual([t.name for t in search("tarnvik")], ["Tårnvik"])
        self.assertEqual([t.region for t in search("tarn head")], ["Sound", "Upper Merrow"])  # the larger one first
        for text in ("", "a", "zzqqx", "'; drop table", "%", "_", "|", "askerby, elsewhere", "\\"):
            self.assertEqual(search(text), [], text)

    def test_one_town_many_and_none(self):
        self.assertEqual(place_of("Askerby").words, "Askerby, Upper Merrow, Merrow")
        self.assertEqual(place_of("Tarn Head, Sound").latitude_deg, -37.1)
        chosen = str(named("tarn head")[1].pk)
        self.assertEqual(place_of("whatever was typed", chosen).latitude_deg, 47.2)
        with self.assertRaises(Unclear) as two:
            place_of("tarn head")
        self.assertEqual(len(two.exception.towns), 2)
        with self.assertRaises(Unclear) as like:
            place_of("Askreby")
        self.assertEqual([t.name for t in like.exception.towns], ["Askerby"])
        with self.assertRaises(Unclear) as nowhere:
            place_of("Zzqqx")
        self.assertIn("coordinates such as", nowhere.exception.words)
        for text in ("89 N 10 E", "Tårnvik", "-70, 0"):
            with self.subTest(text=text), self.assertRaises(Unclear):
                place_of(text)
        with self.assertRaises(Unclear) as far:
            place_of("89 N 10 E")
        self.assertIn("beyond 66°", far.exception.words)

    def test_the_nearest_town_and_none_at_sea(self):
        town, apart = nearest(51.31, 9.55)
        self.assertEqual((town.name, round(apart)), ("Askerby", 4))
        self.assertIsNone(nearest(0.0, -30.0))


class Shipped(TestCase):
    def test_the_whole_table_fills_once_and_reports_towns_of_one_name_apart(self):
        self.assertTrue(fill())
        self.assertFalse(fill())
        self.assertEqual(Filled.objects.count(), 1)
        rows = list(shipped())
        self.assertEqual(Town.objects.count(), len(rows))
        self.assertGreater(len(rows), 150_000)
        self.assertTrue(all(-90 <= r.latitude <= 90 and -180 <= r.longitude <= 180 and r.country for r in rows))
        self.assertGreater(sum(bool(r.region) for r in rows), 0.97 * len(rows))
        often, count = Counter(r.name for r in rows).most_common(1)[0]
        self.assertGreater(count, 20)
        self.assertEqual(len({(t.latitude, t.longitude) for t in search(often)}), 8)
        largest = max(rows, key=lambda r: r.people)
        self.assertEqual(search(folded(largest.name)[:5])[0].name, largest.name)


class Coordinates(TestCase):
    def test_both_at_once(self):
        for text in (
            "46.4, 11.6",
            "46.4 11.6",
            "46,4 11,6",
            "46,4; 11,6",
            "46.4,11.6",
            "46° 24' N 11° 36' E",
            "N 46.4 E 11.6",
            "E 11.6 N 46.4",
            "11.6E 46.4N",
            "46.4N,11.6E",
            "46 24 N, 11 36 E",
            "+46.4 +11.6",
        ):
            for found, wanted in zip(both(text), (46.4, 11.6), strict=True):
                self.assertAlmostEqual(found, wanted, places=6, msg=text)
        self.assertEqual(both("−36.85, −174"), (-36.85, -174))
        self.assertEqual(both("0, 180"), (0, 180))
        for text in ("Askerby", "46.4", "46,11", "Newton 5", "x46 11", "5 East Street", ""):
            self.assertIsNone(both(text), text)
        for text in ("95 10", "46 190", "-46 N 11 E", "46 N 11 N", "46 75 N 11 E"):
            with self.assertRaises(ValueError, msg=text):
                both(text)
        self.assertEqual(degrees(46.4, -11.6), "46° 24.0′ N, 11° 36.0′ W")

    def test_a_sign_or_a_side(self):
        self.assertEqual(angle("46 S", "NS"), -46)
        self.assertIsNone(angle("x46 N", "NS"))  # an x is no sign
        for text, words in (("-46 S", "not both"), ("46 E", "north or south"), ("N 46 N", "once")):
            with self.assertRaisesRegex(ValueError, words):
                angle(text, "NS")
