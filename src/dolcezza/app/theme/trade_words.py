"""Short words that come from the core's tables and enumerations, so that Qt's tool collects them; the desk shows them through ``tr``."""

from __future__ import annotations

from dolcezza.app.theme.words import mark

TRADE = (
    # the staircase, how many signs, places, joints, speeds
    mark("even"), mark("flat"), mark("broken"), mark("reversed"), mark("cannot tell"),
    mark("few"), mark("some"), mark("many"),
    mark("frog"), mark("middle"), mark("tip"), mark("shoulder"), mark("elbow"), mark("wrist"),
    mark("slow"), mark("medium"), mark("fast"),
    # signs of tension
    mark("shaking bow"), mark("bouncing stick"), mark("jerky speed (arc length)"), mark("jerky speed (jerk)"),
    mark("wrist that does not move"), mark("frozen elbow"), mark("raised shoulder"), mark("straight thumb"),
    mark("locked little finger"), mark("same hand at frog and head"), mark("fingers squeezed or stretched"),
    # use of the bow
    mark("Reach at the frog"), mark("Reach at the tip"), mark("Bow used in a stroke"), mark("Bow speed"), mark("Evenness of speed"),
    mark("Down against up"), mark("Drift"), mark("Start off the plan"), mark("Speed against plan"), mark("Bow against plan"),
    mark("Bow used in a beat"),
    # bow patterns of scales, keys
    mark("Whole bows"), mark("Half bows"), mark("Each note three times"), mark("Two notes to a bow"), mark("Three notes to a bow"),
    mark("Four notes to a bow"), mark("Two tied, two separate"), mark("Eight notes to a bow"), mark("B flat"), mark("E flat"),
    mark("A flat"),
    # ways to divide the bow, rhythms to begin with
    mark("One speed"), mark("Faster return"), mark("Less bow"), mark("Short note hooked on"), mark("Taken again"),
    mark("Equal notes"), mark("Dotted pairs"), mark("Three slurred and one"), mark("Two slurred and two separate"), mark("Loud and soft"),
    # what the figures of the bow's use mean
    mark("0 = the very frog; the strokes' own nearest ends"), mark("1 = the very head; the strokes' own farthest ends"),
    mark("share of the hair, mean of the strokes"), mark("mean of the strokes"), mark("1 = the same speed all along a stroke"),
    mark("bow used by down-bows less that of up-bows; not 0 = the bow wanders along"),
    mark("how far each stroke starts farther towards the head than the one before in its direction"),
    mark("how far into the bow strokes begin against where they should, + = the first part is left out"),
    mark("1 = as fast as length, tempo and part of the bow ask"), mark("1 = as much bow as was asked"), mark("share of the hair"),
    # posture
    mark("o'clock"), mark("of the shoulder width"),
    mark("direction of the instrument, twelve = straight ahead of the player, nine = to the left"),
    mark("neck against the floor, + = the scroll is higher"), mark("head against the trunk, + = tilted to the instrument's side"),
    mark("between where the nose points and the scroll, seen from above"),
    mark("endpin beside the midline of the body, + = to the bow's side"), mark("knees above the hips; below = the seat is higher"),
    mark("how far the top faces outwards, 0 = up to the ceiling, 90 = straight ahead"),
    # why a ready-made profile has the lane that it has
    mark("A wide lane, so that placing is learned before steering."), mark("Half-way is the middle of this lane."),
    mark("The lane is a choice of its own: it comes with no hold and no arm. Half-way is the middle of this one."),
    mark("Half-way, then one hair-width nearer the bridge."), mark("Tone is a matter of the tune."),
    # joints of the hand
    mark("Thumb, middle joint"), mark("Index finger, knuckle"), mark("Index finger, middle joint"), mark("Middle finger, knuckle"),
    mark("Middle finger, middle joint"), mark("Ring finger, knuckle"), mark("Ring finger, middle joint"),
    mark("Little finger, knuckle"), mark("Little finger, middle joint"),
)  # fmt: skip
STEPS_BACK = (
    mark("stroke split"), mark("strokes merged"), mark("stroke deleted"), mark("string set"), mark("joints set"),
    mark("joints reset"), mark("frog of the bow set"), mark("head of the bow set"),
    mark("frog of the bow left to the program"), mark("head of the bow left to the program"),
    mark("bow left to the program"), mark("relaxed reference"), mark("relaxed reference removed"),
    mark("landmarks set"), mark("landmark set"), mark("landmark moved"), mark("landmark removed"),
    mark("landmarks cleared"), mark("moment removed"), mark("sides swapped"), mark("zero set"), mark("zero removed"),
    mark("check chosen"), mark("check taken away"),
    mark("tuning set"), mark("tuning left to the sound"), mark("answer"), mark("assignment"), mark("other profile"),
    mark("profile changed"), mark("stage"), mark("step"), mark("bow"), mark("consent"), mark("second phone"),
    mark("other words"), mark("finding accepted"), mark("finding dismissed"), mark("finding reopened"),
    mark("finding dismissed for good"), mark("remark added"), mark("remark removed"), mark("picture kept"),
    mark("picture forgotten"), mark("point set"), mark("student changed"), mark("plan made"),
    mark("practice written down"), mark("entry removed"),
)  # fmt: skip
"""What can be undone, by the names the services give it."""
