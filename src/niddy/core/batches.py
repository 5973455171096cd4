"""Batches: what was planned against what happened, and why the two differ."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core import wetting
from niddy.core.plan import Plan
from niddy.core.slab import Paste, Reading, Verdict, know

_TELLING = 0.01


@dataclass(frozen=True, slots=True)
class Difference:
    """One figure of the plan beside what happened; `reason` is empty where they agree to a hundredth."""

    label: str
    unit: str
    digits: int
    planned: float
    happened: float
    reason: str


def compare(
    plan: Plan, paste: Paste, reading: Reading | None, filled_ml: float, leftover_ml: float
) -> tuple[Difference, ...]:
    """Plan against happened: powder, oil, ratio, place on the scale, paint made, and paint filled."""
    if reading is None:
        return ()
    rows = []
    planned_g, planned_oil_g = plan.pigment_mass.value, plan.oil_mass.value
    rows.append(Difference("Pigment", "g", 1, planned_g, paste.pigment_g, _pigment_reason(plan, paste)))
    rows.append(Difference("Oil", "g", 1, planned_oil_g, paste.oil_g, _oil_reason(plan, paste)))
    rows.append(
        Difference(
            "Ratio", "g oil per 100 g", 1, plan.ratio.value, reading.oil_g_per_100g, _ratio_reason(plan, reading)
        )
    )
    planned_reduced = plan.facts.target_reduced_pvc
    # As the eye sees it: what stiffens it is counted.
    seen = reading.reduced_pvc + know(paste, plan.facts).stiffened
    rows.append(Difference("Reduced PVC", "", 2, planned_reduced, seen, _body_reason(plan, paste, reading)))
    reason = "" if _close(plan.volume.value, reading.volume_ml) else "Follows from the pigment and oil above."
    rows.append(Difference("Paint made", "ml", 1, plan.volume.value, reading.volume_ml, reason))
    wanted = sum(tube.usable_ml * tube.count for tube in plan.tubes) or plan.leftover.value
    if filled_ml or leftover_ml:
        lost = reading.volume_ml - filled_ml - leftover_ml
        rows.append(
            Difference(
                "Filled and kept",
                "ml",
                1,
                wanted,
                filled_ml + leftover_ml,
                f"{lost:.1f} ml of the {reading.volume_ml:.1f} ml made stayed on tools or was lost.",
            )
        )
    return tuple(rows)


def _close(planned: float, happened: float) -> bool:
    return abs(happened - planned) <= _TELLING * max(abs(planned), 1e-9)


def _pigment_reason(plan: Plan, paste: Paste) -> str:
    difference = paste.pigment_g - plan.pigment_mass.value
    if _close(plan.pigment_mass.value, paste.pigment_g):
        return ""
    reasons = []
    if "pigment" in paste.corrective and difference > 0:
        reasons.append("powder was added to take up oil")
    if paste.sampled_g:
        reasons.append(f"{paste.sampled_g:.1f} g of paste went into samples")
    if not reasons:
        reasons.append("more was weighed in" if difference > 0 else "less was weighed in")
    return _sentence(reasons)


def _oil_reason(plan: Plan, paste: Paste) -> str:
    if _close(plan.oil_mass.value, paste.oil_g):
        return ""
    reasons = []
    low, high = plan.oil_mass.low, plan.oil_mass.high
    if not _close(plan.pigment_mass.value, paste.pigment_g):
        reasons.append(
            "more powder went in than planned" if paste.pigment_g > plan.pigment_mass.value else "less powder"
        )
    if paste.drawn_g:
        reasons.append(f"{paste.drawn_g:.1f} g were drawn out again")
    if paste.sampled_g:
        reasons.append("samples took oil with them")
    if low is not None and high is not None:
        reasons.append(
            f"the plan's range was {low:.1f} to {high:.1f} g"
            if low <= paste.oil_g <= high
            else f"outside the plan's range of {low:.1f} to {high:.1f} g"
        )
    return _sentence(reasons)


def _ratio_reason(plan: Plan, reading: Reading) -> str:
    if _close(plan.ratio.value, reading.oil_g_per_100g):
        return ""
    less = reading.oil_g_per_100g < plan.ratio.value
    return (
        "This lot took less oil than the middle of its range, or the paste was left stiffer."
        if less
        else "This lot took more oil than the middle of its range, or the paste was left looser."
    )


def _body_reason(plan: Plan, paste: Paste, reading: Reading) -> str:
    aimed = know(paste, plan.facts).target
    if paste.target_reduced_pvc is not None and not _close(plan.facts.target_reduced_pvc, aimed):
        return f"The maker chose a new target of {aimed:.2f} at the slab ({wetting.body_at(aimed)})."
    if paste.verdict is Verdict.STIFF:
        return "The maker found it stiffer than aimed at."
    if paste.verdict is Verdict.SOFT:
        return "The maker found it softer than aimed at."
    if paste.verdict is Verdict.RIGHT and wetting.body_at(reading.reduced_pvc) is not plan.body:
        return "Right by the maker's eye: this lot's true oil absorption differs from the estimate."
    return ""


def _sentence(reasons: list[str]) -> str:
    text = "; ".join(reasons)
    return text[:1].upper() + text[1:] + "." if text else ""
