"""The page is there at once, the rooms once they are read: what a start gives before it is done."""

from __future__ import annotations

import asyncio
import unittest
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import httpx
from fastapi import FastAPI

from niddy.operations.door import Door

HOST = "http://127.0.0.1"


class ADoor(unittest.TestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.dist = Path(folder.name)
        (self.dist / "index.html").write_text("<title>Niddy</title>")
        self.lived: list[str] = []

        @asynccontextmanager
        async def lifespan(_: FastAPI) -> AsyncIterator[None]:
            self.lived.append("begun")
            yield
            self.lived.append("ended")

        self.app = FastAPI(lifespan=lifespan)
        self.app.get("/api/health")(lambda: {"product": "Niddy"})
        self.app.get("/{path:path}")(lambda: "the rooms' own page")

    def live(self, work: Callable[[httpx.AsyncClient, Door], Awaitable[Any]]) -> None:
        """Serve a door for as long as some work takes, its lifespan as a server would drive it."""

        async def alive() -> None:
            door = Door(["127.0.0.1"], self.dist)
            to_door: asyncio.Queue[dict[str, Any]] = asyncio.Queue()
            from_door: asyncio.Queue[Any] = asyncio.Queue()
            lives = asyncio.create_task(door({"type": "lifespan"}, to_door.get, from_door.put))
            await to_door.put({"type": "lifespan.startup"})
            await from_door.get()
            async with httpx.AsyncClient(transport=httpx.ASGITransport(door), base_url=HOST) as client:
                await work(client, door)
            await to_door.put({"type": "lifespan.shutdown"})
            await lives

        asyncio.run(alive())

    def test_the_page_does_not_wait_for_the_rooms(self) -> None:
        async def work(client: httpx.AsyncClient, _: Door) -> None:
            for path in ("/", "/slab/3", "/index.html"):
                page = await client.get(path)
                self.assertEqual((page.status_code, page.text), (200, "<title>Niddy</title>"), path)
                self.assertIn("frame-ancestors 'none'", page.headers["content-security-policy"])

        self.live(work)
        self.assertEqual(self.lived, [])

    def test_a_room_is_waited_for_and_then_answers_for_itself(self) -> None:
        async def work(client: httpx.AsyncClient, door: Door) -> None:
            asked = asyncio.create_task(client.get("/api/health"))
            done, _ = await asyncio.wait({asked}, timeout=0.05)
            self.assertFalse(done)
            await asyncio.to_thread(door.open_to, self.app)
            self.assertEqual((await asked).json(), {"product": "Niddy"})
            self.assertEqual((await client.get("/")).json(), "the rooms' own page")
            self.assertEqual(self.lived, ["begun"])

        self.live(work)
        self.assertEqual(self.lived, ["begun", "ended"])

    def test_it_answers_to_its_own_names_alone(self) -> None:
        async def work(client: httpx.AsyncClient, _: Door) -> None:
            self.assertEqual((await client.get("/", headers={"host": "elsewhere.test"})).status_code, 400)

        self.live(work)

    def test_what_is_not_a_file_of_the_pages_is_not_given(self) -> None:
        (self.dist.parent / "secret").write_text("no page")
        self.addCleanup((self.dist.parent / "secret").unlink)

        async def work(client: httpx.AsyncClient, _: Door) -> None:
            for path in ("/..%2fsecret", "/%2e%2e/secret", "/%00", "/" + "x" * 2_000):
                self.assertNotIn("no page", (await client.get(path)).text, path)

        self.live(work)

    def test_a_script_that_is_gone_is_not_the_page(self) -> None:
        async def work(client: httpx.AsyncClient, _: Door) -> None:
            self.assertEqual((await client.get("/assets/index-old.js")).status_code, 404)

        self.live(work)

    def test_while_the_pages_are_built_it_says_so_and_comes_by_itself(self) -> None:
        (self.dist / "index.html").unlink()

        async def work(client: httpx.AsyncClient, _: Door) -> None:
            page = await client.get("/")
            self.assertEqual(page.status_code, 503)
            self.assertIn("being set up", page.text)
            self.assertIn('http-equiv="refresh"', page.text)

        self.live(work)


if __name__ == "__main__":
    unittest.main()
