"""What was worked out of the whole record last, told again as long as nothing was written since."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from datetime import datetime
from threading import Lock
from typing import Any, TypeVar

from sqlalchemy import text
from sqlalchemy.orm import Session

T = TypeVar("T")

# What a snapshot sees is the same as long as it reads the same: it names the last transaction that was done with
# writing. A transaction that wrote sees more than its snapshot says.
_SNAPSHOT = text("select pg_current_snapshot()::text as sees, pg_current_xact_id_if_assigned() is not null as wrote")
_MOST = 16
_last: OrderedDict[Hashable, tuple[str, datetime, Any]] = OrderedDict()
_lock = Lock()


def remembered(session: Session, now: datetime, of: Hashable, work_out: Callable[[], T]) -> T:
    """What `work_out` says of the record, by `of`: not worked out again within the minute while nothing is written."""
    seen, wrote = session.execute(_SNAPSHOT).one()
    if wrote:
        return work_out()
    minute = now.replace(second=0, microsecond=0)
    key = (str(session.get_bind().engine.url), of)
    with _lock:
        kept = _last.get(key)
    if kept is not None and kept[:2] == (seen, minute):
        found: T = kept[2]
        return found
    found = work_out()
    with _lock:
        _last[key] = seen, minute, found
        _last.move_to_end(key)
        while len(_last) > _MOST:
            _last.popitem(last=False)
    return found
