"""Makers of a studio: who they are, where they are signed in, who did what."""

from niddy.studio.makers.doing import DoneBy, done_by, made_by, note_change, of_log
from niddy.studio.makers.kept import (
    MakerAsked,
    MakerKept,
    NewMaker,
    add,
    change,
    list_makers,
    make_owner,
    owner_exists,
    remove,
    set_password,
    set_pin,
)
from niddy.studio.makers.signing import (
    Device,
    Signed,
    devices,
    end,
    end_others,
    let_share,
    new_pairing,
    others_here,
    pair,
    sign_in,
    switch,
    who,
)

__all__ = [
    "Device", "DoneBy", "MakerAsked", "MakerKept", "NewMaker", "Signed", "add", "change", "devices",
    "done_by", "end", "end_others", "let_share", "list_makers", "made_by", "make_owner",
    "new_pairing", "note_change", "of_log", "others_here", "owner_exists", "pair", "remove", "set_password",
    "set_pin", "sign_in", "switch", "who",
]  # fmt: skip
