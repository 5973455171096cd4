"""What is in a batch: read from its paste, never from its plan."""

from __future__ import annotations

from niddy.core.cautions import Caution, cautions_for
from niddy.core.contents import OIL_OF_A_GEL, Content, Contents, Role, hazard_keys
from niddy.core.sources import Source, SourceKind
from niddy.studio.batches.kept import BatchKept


def contents_of(kept: BatchKept) -> Contents:
    """What is in the paste of a batch, with the hazards that came with each gram."""
    paste, plan = kept.paste, kept.plan
    found = []
    for line in plan.lines:
        grams = paste.pigments.get(line.pigment.source, 0.0)
        if grams > 0:
            role = Role.PIGMENT if line.extends_pct is None else Role.EXTENDER
            powder = line.pigment
            found.append(
                Content(
                    powder.source, role, powder.name, grams, powder.density_g_per_ml, powder.hazards, powder.ci_name
                )
            )
    oil = plan.oil
    gels = {source for source, additive in paste.additives.items() if additive.what.additive_fraction < 1}
    for source, grams in paste.oils.items():
        if grams <= 0:
            continue
        if source == oil.source and oil.parts:
            found += [
                Content(part.source, Role.OIL, part.name, grams * part.share, oil.density_g_per_ml, oil.hazards)
                for part in oil.parts
            ]
        else:
            name = oil.name if source not in gels else OIL_OF_A_GEL
            found.append(Content(source, Role.OIL, name, grams, oil.density_g_per_ml, oil.hazards))
    found += [
        Content(
            source,
            Role.ADDITIVE,
            additive.what.material,
            additive.grams,
            additive.what.density_g_per_ml,
            additive.what.hazards,
        )
        for source, additive in paste.additives.items()
        if additive.grams > 0
    ]
    if plan.old_paint is not None:
        known = Source(SourceKind.OLD, key=f"{kept.number:x}")
        found.append(Content(str(known), Role.OLD_PAINT, plan.old_paint.name, 0.0, None, plan.old_paint.hazards))
    return tuple(found)


def hazard_keys_of(kept: BatchKept) -> tuple[str, ...]:
    """The keys of all hazards the finished paint of a batch keeps, each once."""
    return hazard_keys(contents_of(kept))


def cautions_now(kept: BatchKept) -> tuple[Caution, ...]:
    """The cautions of a batch at the slab: the plan's, and those of what is in the paste beside it."""
    beside = cautions_for([(content.name, content.hazards) for content in contents_of(kept)])
    planned = {caution.key for caution in kept.plan.cautions}
    return (*kept.plan.cautions, *(more for more in beside if more.key not in planned))
