"""Materials: the studio's shelf over the shipped library; receiving, using, giving back, weighing in again."""

from __future__ import annotations

from niddy.studio.materials.blocks import Block, NewBlock, WaxIn, block, blocks, keep_block
from niddy.studio.materials.cake_kept import CAKE_FAMILY, CakeOf, CakePart, cakes_among
from niddy.studio.materials.cakes import NewCake, cake_key, keep_cake
from niddy.studio.materials.demand import TaughtDemand, set_demand
from niddy.studio.materials.gathering import Asked, dosings, gather, portions
from niddy.studio.materials.gels import NewGel, keep_gel
from niddy.studio.materials.importing import import_lots, known_lots
from niddy.studio.materials.kept import (
    BASE,
    GEL,
    MADE_HERE,
    MASS_KINDS,
    WAX,
    LotKept,
    Movement,
    Value,
    library_says,
    lot,
    lots,
    lots_of,
    low_lots,
    movements,
)
from niddy.studio.materials.lineage import drawn, lots_named
from niddy.studio.materials.made_in_run import MADE_FAMILY, RunOf
from niddy.studio.materials.moving import give_back, on_hand, pieces, take_piece, use, weigh_in, weighed_once
from niddy.studio.materials.own import (
    OWN_PREFIX,
    RAW,
    add_own,
    additive_of,
    material_of,
    oil_of,
    own_materials,
    pigment_of,
    raw_of,
    wax_of,
    waxes,
)
from niddy.studio.materials.own_asked import OwnOfKind, OwnOil, OwnPigment, OwnRaw, OwnWax
from niddy.studio.materials.powders import NewPowder, keep_powder, powder_key
from niddy.studio.materials.prices import LotPrice, known_prices, lot_prices, piece_price
from niddy.studio.materials.receiving import LotChange, NewLot, change, receive, suspect, weigh_drops, weigh_spoon

__all__ = [
    "BASE",
    "CAKE_FAMILY",
    "GEL",
    "MADE_FAMILY",
    "MADE_HERE",
    "MASS_KINDS",
    "OWN_PREFIX",
    "RAW",
    "WAX",
    "Asked",
    "Block",
    "CakeOf",
    "CakePart",
    "LotChange",
    "LotKept",
    "LotPrice",
    "Movement",
    "NewBlock",
    "NewCake",
    "NewGel",
    "NewLot",
    "NewPowder",
    "OwnOfKind",
    "OwnOil",
    "OwnPigment",
    "OwnRaw",
    "OwnWax",
    "RunOf",
    "TaughtDemand",
    "Value",
    "WaxIn",
    "add_own",
    "additive_of",
    "block",
    "blocks",
    "cake_key",
    "cakes_among",
    "change",
    "dosings",
    "drawn",
    "gather",
    "give_back",
    "import_lots",
    "keep_block",
    "keep_cake",
    "keep_gel",
    "keep_powder",
    "known_lots",
    "known_prices",
    "library_says",
    "lot",
    "lot_prices",
    "lots",
    "lots_named",
    "lots_of",
    "low_lots",
    "material_of",
    "movements",
    "oil_of",
    "on_hand",
    "own_materials",
    "piece_price",
    "pieces",
    "pigment_of",
    "portions",
    "powder_key",
    "raw_of",
    "receive",
    "set_demand",
    "suspect",
    "take_piece",
    "use",
    "wax_of",
    "waxes",
    "weigh_drops",
    "weigh_in",
    "weigh_spoon",
    "weighed_once",
]
