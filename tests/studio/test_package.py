"""A whole studio out and in: equal to the last field, from earlier shapes as well, and never half."""

import hashlib
import io
import json
import tempfile
import threading
import unittest
import zipfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any, ClassVar

from alembic import command
from pydantic import SecretStr
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from niddy.core.errors import Refused
from niddy.core.makers import MakerRole
from niddy.core.package import Coming, How, known_revision, ways
from niddy.core.plan import Tooth
from niddy.db import Database, migrations
from niddy.exchange import data_package
from niddy.studio import makers, materials, numbering, package, workshop
from niddy.studio.errors import Conflict
from niddy.studio.makers import NewMaker
from niddy.studio.materials import NewLot
from tests.support import NOW, DatabaseTest, cluster

PASSWORD = "umber and linseed"


def written(database: Database) -> bytes:
    """A studio as a package."""
    to = io.BytesIO()
    with database.snapshot() as connection:
        data_package.write(connection, to, NOW, "0.1.0")
    return to.getvalue()


def everything(database: Database) -> dict[str, str]:
    """A hash of each table that leaves."""
    with database.snapshot() as connection:
        return {
            shape.name: hashlib.sha256(b"".join(package.rows(connection, shape))).hexdigest()
            for shape in package.shapes()
        }


def rewritten(made: bytes, change: Callable[[str, bytes], bytes | None]) -> bytes:
    """A package with its files changed; those that become None are left out."""
    to = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(made)) as old, zipfile.ZipFile(to, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            content = change(name, old.read(name))
            if content is not None:
                new.writestr(name, content)
    return to.getvalue()


def described(change: Callable[[dict[str, Any]], None]) -> Callable[[str, bytes], bytes]:
    """What changes a package's description."""

    def changed(name: str, content: bytes) -> bytes:
        if name != "datapackage.json":
            return content
        said = json.loads(content)
        change(said)
        return json.dumps(said).encode()

    return changed


class Rules(unittest.TestCase):
    def test_the_ways_a_studio_may_come_in(self) -> None:
        def coming(new: int, same: int, otherwise: int) -> list[Coming]:
            return [Coming("lot", "", new, same, otherwise)]

        self.assertEqual(ways(coming(5, 0, 2), here_is_empty=True), (How.REPLACE,))
        self.assertEqual(ways(coming(5, 3, 0), here_is_empty=False), (How.ADD, How.REPLACE))
        self.assertEqual(ways(coming(5, 3, 1), here_is_empty=False), (How.REPLACE,))
        self.assertEqual(ways(coming(0, 3, 0), here_is_empty=False), (How.REPLACE,))

    def test_a_revision_is_known_or_newer(self) -> None:
        self.assertEqual(known_revision("0002", ["0003", "0002"]), "0002")
        for given in ("0004", "", None, 3):
            with self.assertRaises(Refused) as refused:
                known_revision(given, ["0003"])
            self.assertEqual("newer" in refused.exception.problem, given == "0004")

    def test_every_column_is_explained_and_nothing_else(self) -> None:
        used = {column.name for shape in package.shapes() for column in shape.columns}
        self.assertEqual(set(data_package.words()), used)
        self.assertTrue(all(len(says) > 2 for says in data_package.words().values()))
        self.assertTrue(all(shape.says and shape.key for shape in package.shapes()))


class OutAndIn(DatabaseTest):
    with_demo = True
    made: ClassVar[bytes]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        made = makers.add(cls.database, NOW, NewMaker(name="Ada", role=MakerRole.OWNER, password=SecretStr(PASSWORD)))
        makers.sign_in(cls.database, NOW, "Ada", PASSWORD, "phone", shared=False)
        with cls.database.session() as session:
            session.execute(text("update act set maker_id = :id where kind = 'note'"), {"id": made})
            session.execute(text("update studio_settings set calendar_secret = 'very secret indeed'"))
            session.execute(text("update lot set note = '' where id = 1"))
        cls.made = written(cls.database)

    def setUp(self) -> None:
        self.other = self.empty()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))

    def empty(self) -> Database:
        name = f"{self._name}_{len(self.id())}_{id(self) % 10_000}"
        database = Database(cluster().clone("empty_template", name))
        self.addCleanup(cluster().drop, name)
        self.addCleanup(database.dispose)
        return database

    def look(self, made: bytes, database: Database | None = None) -> package.Look:
        with data_package.opened(self.file(made)) as opened:
            return package.look(database or self.other, opened)

    def take_in(self, made: bytes, how: How, database: Database | None = None) -> package.Look:
        with data_package.opened(self.file(made)) as opened:
            return package.take_in(database or self.other, opened, how, NOW)

    def file(self, made: bytes) -> Path:
        file = self.folder / "studio.zip"
        file.write_bytes(made)
        return file

    def left_beside(self, database: Database) -> int:
        with database.session() as session:
            return int(session.scalar(text("select count(*) from pg_namespace where nspname like 'coming%'")) or 0)

    def test_into_an_empty_studio_everything_is_equal_and_numbers_go_on(self) -> None:
        seen = self.look(self.made)
        self.assertTrue(seen.here_is_empty)
        self.assertEqual(seen.ways, (How.REPLACE,))
        self.take_in(self.made, How.REPLACE)
        self.assertEqual(everything(self.other), everything(self.database))
        with self.database.session() as one, self.other.session() as other:
            for query in ("select count(*) from photo", "select max(number) from batch"):
                self.assertEqual(one.scalar(text(query)), other.scalar(text(query)))
            highest = one.scalar(text("select max(id) from lot"))
            self.assertGreaterEqual(other.scalar(text("select nextval('lot_id_seq')")) or 0, (highest or 0) + 1)
            for room in ("slab", "shelf", "runs"):
                numbered = one.scalar(text("select max(number) from job where room = :room"), {"room": room})
                self.assertEqual(numbering.next_number(other, room), (numbered or 0) + 1)
            for table in ("maker_credential", "maker_session"):
                self.assertEqual(other.scalar(text(f"select count(*) from {table}")), 0)
            self.assertIsNone(other.scalar(text("select calendar_secret from studio_settings")))
        self.assertEqual(self.left_beside(self.other), 0)
        again = self.look(self.made)
        self.assertEqual((sum(one.new for one in again.tables), sum(one.otherwise for one in again.tables)), (0, 0))
        self.assertNotIn(b"very secret", self.made)
        self.assertNotIn(
            b"argon2",
            b"".join(
                zipfile.ZipFile(io.BytesIO(self.made)).read(name)
                for name in zipfile.ZipFile(io.BytesIO(self.made)).namelist()
            ),
        )

    def test_what_is_new_comes_beside_and_what_is_otherwise_is_refused_whole(self) -> None:
        self.take_in(self.made, How.REPLACE)
        with self.other.session() as session:
            workshop.keep_slab(session, None, "Slate", 600.0, Tooth.FAIR, None)
        later = written(self.other)
        seen = self.take_in(later, How.ADD, self.database)
        self.assertEqual(sum(one.new for one in seen.tables), 1)
        self.addCleanup(self._forget_slate)
        with self.database.session() as session:
            self.assertEqual(session.scalar(text("select count(*) from slab where name = 'Slate'")), 1)
            who = session.scalar(text("select count(*) from maker_credential"))
            self.assertEqual(who, 1)
        with self.other.session() as session:
            session.execute(text("update lot set note = 'another lot altogether' where id = 2"))
        before = everything(self.other)
        clashing = self.look(self.made)
        self.assertEqual(clashing.ways, (How.REPLACE,))
        self.assertEqual([one.table for one in clashing.tables if one.otherwise], ["lot"])
        self.assertRaises(Conflict, self.take_in, self.made, How.ADD)
        self.assertEqual(everything(self.other), before)
        self.take_in(self.made, How.REPLACE)
        with self.other.session() as session:
            self.assertEqual(session.scalar(text("select count(*) from slab where name = 'Slate'")), 0)

    def _forget_slate(self) -> None:
        with self.database.session() as session:
            session.execute(text("delete from slab where name = 'Slate'"))

    def test_in_place_of_all_whoever_is_known_keeps_the_password(self) -> None:
        self.take_in(self.made, How.REPLACE, self.database)
        makers.sign_in(self.database, NOW, "Ada", PASSWORD, "", shared=False)
        with self.database.session() as session:
            self.assertEqual(session.scalar(text("select calendar_secret from studio_settings")), "very secret indeed")

    def test_a_package_of_an_earlier_version_is_brought_up(self) -> None:
        self.take_in(self.made, How.REPLACE)
        config = migrations._config(self.other.url)
        self.other.dispose()
        command.downgrade(config, "0023")
        command.upgrade(config, "head")

        def old(said: dict[str, Any]) -> None:
            said["niddy"]["revision"] = "0023"
            said["resources"] = [one for one in said["resources"] if not one["name"].startswith("maker")]
            said["resources"] = [one for one in said["resources"] if one["name"] in ("lot", "own_material")]

        made = rewritten(self.made, described(old))
        fresh = self.empty_too()
        seen = self.take_in(made, How.REPLACE, fresh)
        lots = next(one for one in seen.tables if one.table == "lot")
        self.assertGreater(lots.new, 20)
        self.assertEqual(everything(fresh)["lot"], everything(self.database)["lot"])

    def empty_too(self) -> Database:
        name = f"{self._name}_too"
        database = Database(cluster().clone("empty_template", name))
        self.addCleanup(cluster().drop, name)
        self.addCleanup(database.dispose)
        return database

    def test_what_is_no_whole_package_is_refused_in_words_and_nothing_is_left(self) -> None:
        before = everything(self.other)
        climbing, bomb = io.BytesIO(self.made), io.BytesIO(self.made)
        with zipfile.ZipFile(climbing, "a") as archive:
            archive.writestr("../../etc/passwd", "x")
        with zipfile.ZipFile(bomb, "a", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("data/zeros.csv", b"0" * 30_000_000)
        foreign = io.BytesIO()
        with zipfile.ZipFile(foreign, "w") as archive:
            archive.writestr("hello.txt", "hello")
        flipped = rewritten(self.made, lambda name, c: c.replace(b"umber", b"ochre") if name == "data/lot.csv" else c)
        lot_without = rewritten(self.made, lambda name, c: None if name == "data/lot.csv" else c)
        no_picture = rewritten(self.made, lambda name, c: None if name.startswith("pictures/") else c)
        text_picture = rewritten(self.made, lambda name, c: b"<svg/>" if name.startswith("pictures/") else c)

        def newer(said: dict[str, Any]) -> None:
            said["niddy"]["revision"] = "9999"

        def elsewhere(said: dict[str, Any]) -> None:
            said["resources"][0]["path"] = "../../../etc/passwd"

        def of_nothing(said: dict[str, Any]) -> None:
            del said["resources"]

        def other_name(said: dict[str, Any]) -> None:
            said["name"] = "rainfall"

        def more_columns(said: dict[str, Any]) -> None:
            lot = next(one for one in said["resources"] if one["name"] == "lot")
            lot["schema"]["fields"].append({"name": "luck", "type": "string"})

        for words, made in (
            ("not a zip", b"PK nothing"),
            ("not a zip", self.made[: len(self.made) // 2]),
            ("not a zip", b""),
            ("no datapackage.json", foreign.getvalue()),
            ("climbs out", climbing.getvalue()),
            ("beyond all measure", bomb.getvalue()),
            ("changed or cut off", flipped),
            ("missing", lot_without),
            ("pictures are missing", no_picture),
            ("is not a picture", text_picture),
            ("newer Niddy", rewritten(self.made, described(newer))),
            ("", rewritten(self.made, described(elsewhere))),
            ("", rewritten(self.made, described(of_nothing))),
            ("not of a studio", rewritten(self.made, described(other_name))),
            ("columns", rewritten(self.made, described(more_columns))),
            ("cannot be read", rewritten(self.made, lambda name, c: b"{" if name == "datapackage.json" else c)),
            ("says nothing", rewritten(self.made, lambda name, c: b"[]" if name == "datapackage.json" else c)),
        ):
            with self.subTest(words), self.assertRaises(Refused) as refused:
                self.take_in(made, How.REPLACE)
            self.assertEqual(refused.exception.field, "package")
            self.assertIn(words, refused.exception.problem)
        self.assertEqual(everything(self.other), before)
        self.assertEqual(self.left_beside(self.other), 0)

    def hostile(self, *changes: str) -> bytes:
        """The demo as a package of a studio whose records were changed by somebody who means harm."""
        with self.another("demo_template") as database:
            with database.session() as session:
                for change in changes:
                    session.execute(text(change))
            return written(database)

    @contextmanager
    def another(self, template: str) -> Iterator[Database]:
        name = f"{self._name}_another"
        database = Database(cluster().clone(template, name))
        try:
            yield database
        finally:
            database.dispose()
            cluster().drop(name)

    def test_what_no_room_can_read_is_refused_before_anything_is_written(self) -> None:
        before = everything(self.other)
        note = "update act set payload = jsonb_set(payload, '{%s}', '%s') where kind = '%s'"
        for words, change in (
            ("batch", note % ("text", "[[[1]]]", "note")),
            ("act of", note % ("measure", '{"unit": "g", "amount": "much"}', "oil")),
            ("act of", note % ("measure", '{"unit": "g", "amount": 1e300}', "oil")),
            ("act of pot", note % ("temperature_c", "[]", "temperature")),
            ("fields", "update act set payload = '[1, 2]' where kind = 'look'"),
            ("cannot be read", "update job set plan = '{\"a\": 1}' where room = 'slab' and number = 3"),
            ("cannot be read", "update job set state = '[]' where room = 'slab' and number = 3"),
            ("cannot be read", "update shelf_item set contents = '[{\"a\": 1}]' where id = 3"),
            ("could never have been recorded", "update lot set received = 'NaN' where id = 3"),
            ("could never have been recorded", "update shelf_item set volume_ml = 'Infinity' where id = 3"),
            (
                "could never have been recorded",
                "update job set number = 2147483000 where room = 'checks' and number = 3",
            ),
        ):
            with self.subTest(change):
                try:
                    made = self.hostile(change)
                except DBAPIError:
                    # The record itself refuses to hold it: nothing can come of it.
                    continue
                with self.assertRaises(Refused) as refused:
                    self.take_in(made, How.REPLACE)
                self.assertIn(words, refused.exception.problem)
        self.assertEqual(everything(self.other), before)

    def test_what_the_shelf_logs_by_itself_comes_in(self) -> None:
        kinds = ("topped_up", "settle", "regrind", "drawn")
        put = "update act set kind = '%s' where id = (select id from act where kind = 'put' order by id limit 1)"
        self.take_in(self.hostile(*(put % kind for kind in kinds)), How.REPLACE)
        with self.other.session() as session:
            there = set(session.scalars(text("select distinct kind from act")))
        self.assertLessEqual(set(kinds), there)

    def test_sequences_are_computed_and_never_taken(self) -> None:
        def at_their_end(said: dict[str, Any]) -> None:
            said["niddy"]["sequences"] = {"lot_id_seq": 2**31 - 1, "shelf_item_id_seq": 2**31 - 1}

        self.take_in(rewritten(self.made, described(at_their_end)), How.REPLACE)
        with self.other.session() as session:
            highest = session.scalar(text("select max(id) from lot")) or 0
            new = NewLot("pigment", "bone-black", "NEW-1", NOW.date(), 10.0, None)
            self.assertLessEqual(materials.receive(session, NOW, new), highest + 2)

    def test_nothing_is_ever_fetched_and_a_locked_zip_is_refused(self) -> None:
        asked: list[str] = []

        class Listens(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                asked.append(self.path)
                self.send_error(404)

        server = HTTPServer(("127.0.0.1", 0), Listens)
        self.addCleanup(server.server_close)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.shutdown)
        there = f"http://127.0.0.1:{server.server_port}/profile.json"

        def fetches(said: dict[str, Any]) -> None:
            said["profile"] = said["$schema"] = there
            for one in said["resources"]:
                one["profile"] = one["$schema"] = there
                one["licenses"] = [{"path": there}]

        def elsewhere(said: dict[str, Any]) -> None:
            said["resources"][0]["schema"] = there

        def at_address(said: dict[str, Any]) -> None:
            said["resources"][0]["path"] = there

        self.look(rewritten(self.made, described(fetches)))
        for change in (elsewhere, at_address):
            with self.subTest(change.__name__), self.assertRaises(Refused):
                self.look(rewritten(self.made, described(change)))
        self.assertEqual(asked, [])
        locked = bytearray(self.made)
        for mark, at in ((b"PK\x01\x02", 8), (b"PK\x03\x04", 6)):
            place = locked.find(mark)
            while place >= 0:
                locked[place + at] |= 1
                place = locked.find(mark, place + 4)
        with self.assertRaises(Refused) as refused:
            self.look(bytes(locked))
        self.assertIn("password", refused.exception.problem)

    def test_nobody_is_locked_out_by_an_older_package_of_their_own(self) -> None:
        with self.another("empty_template") as database:
            zoe = NewMaker(name="Zoe", role=MakerRole.OWNER, password=SecretStr(PASSWORD))
            makers.add(database, NOW, zoe)
            with database.session() as session:
                session.execute(
                    text("insert into maker_change (maker_id, at, what, address) values (1, now(), 'x', '')")
                )
            older = written(database)
        owner = NewMaker(name="Ida", role=MakerRole.OWNER, password=SecretStr(PASSWORD))
        makers.add(self.other, NOW, owner)
        token = makers.sign_in(self.other, NOW, "Ida", PASSWORD, "", shared=False).token
        self.take_in(older, How.REPLACE, self.other)
        makers.sign_in(self.other, NOW, "ida", PASSWORD, "", shared=False)
        with self.other.session() as session:
            who = makers.who(session, NOW, token)
            self.assertTrue(who is not None and who.owns)
            self.assertEqual([one.name for one in makers.list_makers(session)], ["Ida", "Zoe"])
            by = session.scalar(text("select name from maker join maker_change on maker_id = maker.id"))
            self.assertEqual(by, "Zoe")
        with self.assertRaises(Refused):
            makers.sign_in(self.other, NOW, "Zoe", PASSWORD, "", shared=False)
        # Back again, the same two are the same two.
        self.take_in(written(self.other), How.REPLACE, self.other)
        with self.other.session() as session:
            self.assertEqual([one.name for one in makers.list_makers(session)], ["Ida", "Zoe"])

    def test_records_that_do_not_hold_together_are_refused(self) -> None:
        def lost(name: str, content: bytes) -> bytes:
            if name == "data/recipe_version.csv":
                lines = content.decode().splitlines()
                return (lines[0] + "\n" + "77,99" + lines[1][lines[1].index(",", 2) :] + "\n").encode()
            return content

        made = rewritten(self.made, lost)
        digest = hashlib.sha256(zipfile.ZipFile(io.BytesIO(made)).read("data/recipe_version.csv")).hexdigest()

        def rehashed(said: dict[str, Any]) -> None:
            next(one for one in said["resources"] if one["name"] == "recipe_version")["hash"] = f"sha256:{digest}"

        with self.assertRaises(Refused) as refused:
            self.look(rewritten(made, described(rehashed)))
        self.assertIn("do not hold together", refused.exception.problem)

    def test_a_file_nobody_knows_is_said(self) -> None:
        more = io.BytesIO(self.made)
        with zipfile.ZipFile(more, "a") as archive:
            archive.writestr("notes/by hand.txt", "x")
        with data_package.opened(self.file(more.getvalue())) as opened:
            self.assertEqual(opened.unknown, ("notes/by hand.txt",))

    def test_what_an_import_left_when_it_was_cut_off_is_cleared(self) -> None:
        with self.other.engine.begin() as connection:
            connection.execute(text("create schema coming_0011"))
            connection.execute(text("create table coming_0011.lot (id int)"))
        package.clear_leftovers(self.other)
        self.assertEqual(self.left_beside(self.other), 0)

    def test_others_read_it_without_niddy(self) -> None:
        from frictionless import Package

        read = Package(str(self.file(self.made)))
        for name in ("lot", "recipe", "studio_settings", "slab", "recipe_version"):
            with self.subTest(name):
                resource = read.get_resource(name)
                self.assertTrue(resource.validate().valid)
                self.assertGreaterEqual(len(resource.read_rows()), 1)
