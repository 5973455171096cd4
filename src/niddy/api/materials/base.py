"""The router that all addresses of this room stand on."""

from niddy.api.problems import REFUSALS
from niddy.api.router import Router

router = Router(prefix="/api/materials", tags=["materials"], responses=REFUSALS)
