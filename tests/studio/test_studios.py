"""Made-up makers who do what is advised: a short run of what the bench does at length."""

from statistics import median

from niddy.studio import batches, materials
from niddy.studio.batches import Search
from tests.bench import studios
from tests.support import DatabaseTest


class MadeUpMakers(DatabaseTest):
    def test_what_is_advised_leads_to_paint_and_slips_are_asked_about(self) -> None:
        by_kind = studios.simulate(self.database.url, 4, seed=15, said=lambda line: None)
        for kind, found in by_kind.items():
            with self.subTest(kind, row=found.row(kind)):
                self.assertEqual((found.batches, found.stuck), (20, 0))
                self.assertGreaterEqual(sum(found.bands) / len(found.bands), 0.6)
                self.assertLessEqual(sum(found.too_far) / len(found.too_far), 0.34)
                self.assertLess(abs(median(found.off_middle)), 0.03)
        answered = [asked for found in by_kind.values() for slips in found.at_all.values() for asked in slips]
        self.assertGreaterEqual(sum(answered) / len(answered), 0.7, answered)

        # Nothing of them stays.
        with self.database.session() as session:
            self.assertEqual(batches.search(session, Search()).batches, ())
            self.assertEqual(materials.lots(session, with_used_up=True), ())
