"""Home, and whether the server is well."""

from __future__ import annotations

from pydantic import BaseModel

from niddy import __version__
from niddy.api import policy
from niddy.api.context import Db, Now
from niddy.api.router import Router
from niddy.studio import batches
from niddy.studio import home as studio
from niddy.studio.home import Home

router = Router(prefix="/api", tags=["home"])


class Health(BaseModel):
    """Whether the server and its database answer."""

    product: str
    version: str
    database: bool


@router.get("/health")
@policy.anybody()
def health(db: Db) -> Health:
    """The bare question: one `select 1`."""
    with db.session() as session:
        return Health(product="Niddy", version=__version__, database=batches.alive(session) == 1)


@router.get("/home")
def home(db: Db, now: Now) -> Home:
    """What is on the bench, what next."""
    with db.session() as session:
        return studio.home(session, now)
