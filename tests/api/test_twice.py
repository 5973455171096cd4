"""The same act twice at one moment, in every room and of every kind."""

import random

from sqlalchemy import text

from tests.attack.twice import twice
from tests.support import TODAY, ServerTest


class Twice(ServerTest):
    with_demo = True

    def test_both_answers_are_alike_and_the_act_is_kept_once(self) -> None:
        outcome = twice(self.base, random.Random(7301), str(TODAY), 1)
        self.assertEqual(outcome.differ, [])
        self.assertEqual("\n".join(outcome.refused), "")
        self.assertGreaterEqual(len(outcome.kinds), 100)
        with self.database.session() as session:
            gaps = session.execute(
                text("select job_id from act group by job_id having max(seq) <> count(*) or min(seq) <> 1")
            )
            self.assertEqual(gaps.all(), [])
            self.assertEqual(session.scalar(text("select count(*) from late_act")), 0)
