"""Makers of a studio: who they are, what proves them, where they are signed in, who did what."""

from niddy.studio.makers.doing import DoneBy, done_by, made_by, note_change, of_log
from niddy.studio.makers.kept import MakerAsked, MakerKept, NewMaker, change, list_makers, owner_exists, remove
from niddy.studio.makers.proving import Busy, add, knows, make_owner, prove, set_password, set_pin, sign_in, switch
from niddy.studio.makers.signing import Device, Signed, devices, end, let_share, new_pairing, others_here, pair, who

__all__ = [
    "Busy",
    "Device",
    "DoneBy",
    "MakerAsked",
    "MakerKept",
    "NewMaker",
    "Signed",
    "add",
    "change",
    "devices",
    "done_by",
    "end",
    "knows",
    "let_share",
    "list_makers",
    "made_by",
    "make_owner",
    "new_pairing",
    "note_change",
    "of_log",
    "others_here",
    "owner_exists",
    "pair",
    "prove",
    "remove",
    "set_password",
    "set_pin",
    "sign_in",
    "switch",
    "who",
]
