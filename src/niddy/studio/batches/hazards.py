"""What a batch holds that hurts."""

from __future__ import annotations

from niddy.core.cautions import Caution, cautions_for, in_paint
from niddy.core.plan import Plan
from niddy.core.slab import Paste
from niddy.studio.batches.kept import BatchKept


def hazards_of(kept: BatchKept) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """What the finished paint of a batch holds that hurts: each material's name and the hazard keys it keeps."""
    held = [
        *((w.pigment.name, w.pigment.hazards) for w in kept.plan.lines), (kept.plan.oil.name, kept.plan.oil.hazards),
        *stirred_in(kept.paste), *_brought_along(kept.plan),
    ]  # fmt: skip
    return tuple((name, in_paint(hazards)) for name, hazards in held)


def stirred_in(paste: Paste) -> list[tuple[str, tuple[str, ...]]]:
    """The additives that are in a paste, planned or not, with their hazard keys."""
    return [(one.what.name, one.what.hazards) for one in paste.additives.values() if one.grams > 0]


def _brought_along(plan: Plan) -> list[tuple[str, tuple[str, ...]]]:
    return [(plan.old_paint.name, plan.old_paint.hazards)] if plan.old_paint is not None else []


def cautions_now(kept: BatchKept) -> tuple[Caution, ...]:
    """The cautions of a batch at the slab: the plan's, and those of what was stirred in beside it."""
    beside = [(name, hazards) for name, hazards in stirred_in(kept.paste)]
    told = {caution.key for caution in kept.plan.cautions}
    return (*kept.plan.cautions, *(one for one in cautions_for(beside) if one.key not in told))


def hazard_keys_of(kept: BatchKept) -> tuple[str, ...]:
    """The same as keys alone, each once."""
    return tuple(sorted({key for _, keys in hazards_of(kept) for key in keys}))
