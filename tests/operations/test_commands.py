"""What is done at the terminal: the first owner, a certificate, the whole studio out and in."""

import json
import ssl
import tempfile
import unittest
import urllib.request
import zipfile
from contextlib import redirect_stderr, redirect_stdout
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from unittest import mock

from typer.testing import CliRunner

from niddy.cli import app
from niddy.db import Database, migrations
from niddy.operations import certificate, doctor, owner, package
from niddy.operations.instance import Instance
from niddy.operations.throwaway import throwaway
from niddy.settings import Settings
from niddy.studio import makers, workshop


class Asked(unittest.TestCase):
    def test_help_lists_the_commands_by_any_way_of_asking(self) -> None:
        told = [CliRunner().invoke(app, words, prog_name="./niddy") for words in (["help"], ["--help"], [])]
        for answer in told:
            self.assertIn("Usage: ./niddy [OPTIONS] COMMAND", answer.output)
            self.assertIn("Write all records into one file", answer.output)
        self.assertEqual(told[0].exit_code, 0)
        self.assertEqual(CliRunner().invoke(app, ["nothing"]).exit_code, 2)


class Terminal(unittest.TestCase):
    """Commands on a cluster of their own, without a server."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = throwaway()
        cls.addClassCleanup(cls.cluster.destroy)
        cls.url = cls.cluster.ensure()
        migrations.upgrade(cls.url)
        cls.database = Database(cls.url)
        cls.addClassCleanup(cls.database.dispose)
        with cls.database.session() as session:
            workshop.furnish(session)
        cls.settings = Settings(home=cls.cluster.home, database_url=cls.url)

    def said(self, command: object, *arguments: object, typed: str = "", **more: object) -> tuple[int, str]:
        out = StringIO()
        with redirect_stdout(out), redirect_stderr(out), mock.patch("sys.stdin", StringIO(typed)):
            code = command(self.settings, *arguments, **more)  # type: ignore[operator]
        return code, out.getvalue()

    def test_an_owner_is_made_and_gets_a_new_password(self) -> None:
        code, said = self.said(owner.owner, "Ada", typed="short\n")
        self.assertEqual(code, 1)
        self.assertIn("too short", said)
        code, said = self.said(owner.owner, "  Ada  Marsh ", typed="umber and linseed\n")
        self.assertEqual((code, "Ada Marsh is an owner now" in said), (0, True))
        code, said = self.said(owner.owner, "ada marsh", typed="ochre and walnut\n")
        self.assertIn("new password", said)
        with self.database.session() as session:
            self.assertTrue(makers.owner_exists(session))
        makers.sign_in(self.database, self.settings.now(), "Ada Marsh", "ochre and walnut", "", shared=False)
        self.assertEqual(self.said(owner.owner, " ", typed="x\n")[0], 1)

    def test_the_whole_studio_goes_out_and_comes_in(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        file = folder / "studio.zip"
        code, said = self.said(package.leave, file)
        self.assertEqual((code, "records written" in said), (0, True))
        self.assertIn("datapackage.json", zipfile.ZipFile(file).namelist())
        self.assertEqual([one.name for one in folder.iterdir()], ["studio.zip"])
        self.assertIn("there already", self.said(package.leave, file)[1])
        code, said = self.said(package.come, file, add=False, replace=False)
        self.assertEqual((code, "Nothing was changed" in said), (0, True))
        code, said = self.said(package.come, file, add=False, replace=True)
        self.assertEqual((code, "all in" in said), (0, True))
        broken = folder / "broken.zip"
        broken.write_bytes(file.read_bytes()[:900])
        code, said = self.said(package.come, broken, add=False, replace=True)
        self.assertEqual((code, "nothing was changed" in said), (1, True))
        self.assertEqual(self.said(package.come, folder / "none.zip", add=True, replace=False)[0], 1)
        self.assertEqual(self.said(package.leave, folder / "no" / "where.zip")[0], 1)


class OfTheNetwork(unittest.TestCase):
    def test_a_certificate_is_for_the_address_and_is_made_again_by_the_same_authority(self) -> None:
        from cryptography import x509

        home = Path(self.enterContext(tempfile.TemporaryDirectory()))
        settings = Settings(home=home, port=8740, address="https://192.168.1.20:8740")  # type: ignore[arg-type]
        self.assertIn("niddy.crt cannot be read", certificate.missing(settings))
        for turn in range(2):
            out = StringIO()
            with redirect_stdout(out):
                self.assertEqual(certificate.certificate(settings), 0)
            self.assertEqual("install it as a certificate authority" in out.getvalue(), turn == 0)
        self.assertEqual(certificate.missing(settings), "")
        there = certificate.files(settings)
        self.assertEqual(there.key.stat().st_mode & 0o777, 0o600)
        own, authority = x509.load_pem_x509_certificates(there.certificate.read_bytes())
        own.verify_directly_issued_by(authority)
        names = own.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        self.assertIn("192.168.1.20", [str(one) for one in names.get_values_for_type(x509.IPAddress)])
        self.assertLessEqual(own.not_valid_after_utc - datetime.now(UTC), timedelta(days=398))
        with redirect_stderr(StringIO()):
            self.assertEqual(certificate.certificate(Settings(home=home)), 1)
        now = datetime.now(UTC)
        self.assertTrue(doctor._network(settings, now).well)
        self.assertIn("ended", doctor._network(settings, now + timedelta(days=400)).says)
        there.key.unlink()
        self.assertFalse(doctor._network(settings, now).well)

    def test_a_whole_instance_serves_https_and_asks_to_sign_in(self) -> None:
        instance = Instance()
        self.addCleanup(instance.destroy)
        instance.environment["NIDDY_ADDRESS"] = f"https://localhost:{instance.port}"
        begun = instance.run("start", "--no-demo")
        self.assertEqual(begun.returncode, 1)
        self.assertIn("./niddy certificate", begun.stderr)
        self.assertEqual(instance.run("certificate").returncode, 0)
        instance.begin("--no-demo")
        trusted = ssl.create_default_context(cafile=str(instance.home / "certificate" / "authority.crt"))
        base = f"https://localhost:{instance.port}"
        for _ in range(600):
            try:
                with urllib.request.urlopen(f"{base}/api/makers/here", timeout=2, context=trusted) as answer:
                    here = json.load(answer)
                break
            except OSError:
                __import__("time").sleep(0.2)
        self.assertEqual((here["asked"], here["owner_exists"], here["readable"]), (True, False, False))
        self.assertIn("there is no owner yet", instance.printed())
        instance.stop()
