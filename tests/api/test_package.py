"""The whole studio over HTTP: out as a file, looked at, taken in; another kind of body and a stale look refused."""

import io
import zipfile
from pathlib import Path
from unittest import mock

from niddy.operations.keeping import Backups
from niddy.studio.workshop import BackupsSeen
from tests.support import ServerTest

ZIP = {"content-type": "application/zip"}


class Whole(ServerTest):
    with_demo = True

    def test_out_and_in_again(self) -> None:
        answer = self.client.get("/api/package")
        self.assertEqual(answer.headers["content-type"], "application/zip")
        self.assertIn("niddy-studio-2026-06-18.zip", answer.headers["content-disposition"])
        names = zipfile.ZipFile(io.BytesIO(answer.content)).namelist()
        self.assertIn("datapackage.json", names)
        self.ok(self.client.post("/api/workshop/slabs", json={"name": "Slate", "area_cm2": 600.0, "tooth": "fair"}))
        seen = self.ok(self.client.post("/api/package/look", content=answer.content, headers=ZIP))
        self.assertEqual((seen["here_is_empty"], seen["ways"], seen["backed_up"]), (False, ["replace"], False))
        path = f"/api/package/{seen['token']}"
        self.refused(self.client.post(path, json={"how": "add"}), "how", 409)
        self.refused(self.client.post(path, json={"how": "both"}), "how")
        taken = self.ok(self.client.post(path, json={"how": "replace"}))
        self.assertGreater(taken["rows"], 1_000)
        self.assertNotIn("Slate", self.client.get("/api/workshop").text)
        self.assertEqual(self.client.post(path, json={"how": "replace"}).status_code, 404)

    def test_what_makes_way_is_backed_up_first_or_stays(self) -> None:
        made = self.client.get("/api/package").content
        seen = self.ok(self.client.post("/api/package/look", content=made, headers=ZIP))
        keeper = mock.create_autospec(Backups, instance=True)
        keeper.now.return_value = BackupsSeen(kept_here=True, trouble="the disk is full")
        app = self._server.config.loaded_app
        while not hasattr(app, "state"):
            app = app.app
        with mock.patch.object(app.state, "backups", keeper):
            refused = self.client.post(f"/api/package/{seen['token']}", json={"how": "replace"})
        self.assertIn("disk is full", self.refused(refused, "how", 409)["problem"])

    def test_a_file_that_was_sent_may_go_while_others_are_looked_at(self) -> None:
        made = self.client.get("/api/package").content
        gone = Path("/nowhere/leaving.zip")
        with mock.patch("niddy.api.package.Path.iterdir", return_value=iter([gone])):
            self.ok(self.client.post("/api/package/look", content=made, headers=ZIP))

    def test_bad_bodies(self) -> None:
        self.refused(self.client.post("/api/package/look", content=b"x", headers=ZIP), "package")
        self.refused(self.client.post("/api/package/look", content=b"x"), "content-type", 415)
        self.assertEqual(self.client.post("/api/package/" + "0" * 32, json={"how": "add"}).status_code, 404)
        self.assertIn(self.client.post("/api/package/..%2f..", json={"how": "add"}).status_code, (404, 405))
