"""Big words and big pictures: the time and the memory they take, and whether others are answered meanwhile."""

from __future__ import annotations

import io
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from uuid import uuid4

import httpx
from PIL import Image

from niddy.operations.instance import Instance

PICTURES = 6
MOST_MEMORY_MB = 1_200
SLOW_S = 20.0


def large(instance: Instance) -> tuple[int, list[str]]:
    """Labels of unbroken words, a reading file of markers, a runaway pattern, six pictures at once.

    How often it tried, and what went wrong.
    """
    harm: list[str] = []
    word = "Quinacridonemagenta" * 16
    items = [item["id"] for item in httpx.get(f"{instance.base}/api/shelf", params={"limit": 500}).json()["items"]]
    begun = time.monotonic()
    labels = httpx.post(
        f"{instance.base}/api/tubes/labels.pdf", json={"items": (items * 12)[:600], "name": word[:300]}, timeout=120
    )
    _judge(harm, "600 labels of one long word", labels, time.monotonic() - begun)
    begun = time.monotonic()
    read = httpx.post(
        f"{instance.base}/api/checks/reading-file",
        content="BEGIN_DATA_FORMAT\n" * 30_000,
        timeout=120,
        headers={"content-type": "text/plain"},
    )
    _judge(harm, "a file of markers", read, time.monotonic() - begun)
    kept = httpx.get(f"{instance.base}/api/workshop").json()["settings"]
    nested = {**kept, "balance_pattern": "(?P<weight>(a+)+)+$", "balance_port": "socket://127.0.0.1:9"}
    _judge(harm, "a nested pattern", httpx.put(f"{instance.base}/api/workshop/settings", json=nested, timeout=30), 0)
    httpx.put(f"{instance.base}/api/workshop/settings", json=kept, timeout=30)
    out = io.BytesIO()
    Image.new("RGB", (8_000, 6_000), "#7a3b22").save(out, "JPEG", quality=60)
    picture = out.getvalue()
    slowest = 0.0

    def send(_: int) -> httpx.Response:
        return httpx.post(
            f"{instance.base}/api/slab/32/photos/{uuid4()}",
            params={"made_at": "2026-06-18T10:00:00Z"},
            content=picture,
            headers={"content-type": "image/jpeg"},
            timeout=120,
        )

    with ThreadPoolExecutor(PICTURES) as pool:
        sent = [pool.submit(send, n) for n in range(PICTURES)]
        while not all(request.done() for request in sent):
            begun = time.monotonic()
            httpx.get(f"{instance.base}/api/health", timeout=60)
            slowest = max(slowest, time.monotonic() - begun)
            time.sleep(0.05)
    for request in sent:
        _judge(harm, "a picture of 48 megapixels", request.result(), 0)
    if slowest > SLOW_S / 4:
        harm.append(f"others waited {slowest:.1f} s meanwhile")
    assert instance.process is not None
    peak = _peak_mb(instance.process.pid)
    if peak > MOST_MEMORY_MB:
        harm.append(f"{peak:.0f} MB at the peak")
    return 3 + PICTURES, harm


def _judge(harm: list[str], what: str, answer: httpx.Response, took_s: float) -> None:
    if answer.status_code >= 500 or took_s > SLOW_S:
        harm.append(f"{what}: {answer.status_code} after {took_s:.1f} s")


def _peak_mb(pid: int) -> float:
    for line in Path(f"/proc/{pid}/status").read_text().splitlines():
        if line.startswith("VmHWM"):
            return int(line.split()[1]) / 1024
    return 0.0
