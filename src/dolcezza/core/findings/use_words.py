"""Sentences and probable causes of the findings about bow use and sound."""

from __future__ import annotations

CAUSES: dict[str, tuple[str, str]] = {
    "short bows": ("caution", "Probably caution: less bow is played than was asked. A marker on the stick helps."),
    "avoids the frog": ("bow heavy at the frog", "Probably the bow feels heavy there and thumb and little finger stay straight."),
    "bow wanders": ("down and up unequal", "Probably down- and up-bows do not use the same: divide the bow before playing."),
    "uneven speed": ("speed not kept", "Probably the bow rushes at first and crawls at the end. A metronome tells."),
    "crushed tone": ("too much weight for the speed", "Probably more weight than the speed carries: faster, or lighter."),
    "airy tone": ("too much speed for the weight", "Probably the bow is quicker than its weight: add a little, or slow down."),
    "unclear start": ("start without weight", "Probably the bow sets off before it has taken hold: a little weight first, then release."),
    "trembling tone": ("pressing", "Probably the hand presses or holds the bow up: let the string carry it."),
    "noise between notes": ("left hand", "The bow keeps its speed: look at the left finger, not at the bow."),
    "raised shoulder": ("shoulder lifted", "Probably the shoulder lifts with the elbow. It stays heavy."),
    "wrist that does not move": ("no release in the wrist", "Probably the wrist is held: nothing gives at the ends of the bow."),
    "frozen elbow": ("elbow does not open", "Probably the whole arm moves as one piece."),
    "shaking bow": ("pressing", "Probably squeezing or pressing: let the string carry the bow."),
    "bouncing stick": ("pressing", "Probably squeezing or pressing: let the string carry the bow."),
    "jerky speed (jerk)": ("stiff changes", "Probably wrist and fingers do not cushion the change."),
    "jerky speed (arc length)": ("stiff changes", "Probably wrist and fingers do not cushion the change."),
    "straight thumb": ("thumb held straight", "Probably the thumb tightens. Only as much force as the joint can keep."),
    "straight little finger": ("little finger held straight", "Probably it is pushed. Let it drape over the stick."),
    "posture": ("set-up", "Probably the set-up: put it right before anything is played."),
    "leaves the string": ("lifting", "Probably the arm lifts the bow: let it lie on the string."),
    "wrist below the knuckles": ("wrist collapsed", "Probably the wrist gives way under the stick."),
    "wrist above the knuckles": ("wrist pressed up", "Probably extra force from above: soften, knuckles aside."),
    "fingers squeezed": ("gaps not at ease", "Probably the fingers hold more than they need: the gaps of the hanging hand."),
    "hand does not change": ("hand copied from one picture", "Probably one picture of the hand is kept all along the bow."),
}  # fmt: skip
"""Kind of finding to the key of its cause and the sentence for it."""
AGAINST: dict[str, str] = {
    "short bows": "Against it: a quick tempo, or a part of the bow that was not meant to be long.",
    "avoids the frog": "Against it: the exercise may not go to the frog.",
    "crushed tone": "Against it: other noise in the room; rosin; early roughness that you welcome.",
    "airy tone": "Against it: old strings or rosin; a wanted colour.",
    "trembling tone": "Against it: vibrato; the phone's automatic gain.",
    "unclear start": "Against it: a lifted bow on purpose.",
}
QUIET_ROOM = "To be sure: film in a quiet room, the phone two to three steps away."


def _of(shown: int, of: int) -> str:
    return f"on {shown} of {of} strokes"


def short(share: float, shown: int, of: int) -> str:
    """Less bow than asked."""
    return f"The bows are short: {100 * share:.0f} % of what was asked, {_of(shown, of)}."


def frog(reach: float) -> str:
    """The frog is kept away from."""
    return f"The bow keeps away from the frog: it comes no nearer than {100 * reach:.0f} % of the hair."


def drift(per_stroke: float) -> str:
    """The bow runs out or piles up."""
    where = "runs out towards the head" if per_stroke > 0 else "piles up at the frog"
    return f"The bow {where}: each stroke starts {100 * abs(per_stroke):.0f} % of the hair farther along."


def uneven(shown: int, of: int) -> str:
    """Speed that is not kept along the stroke."""
    return f"The bow does not keep its speed along the stroke, {_of(shown, of)}."


def tone(kind: str, shown: int, of: int) -> str:
    """Crushed or airy."""
    what = "is crushed: slow or split, and noisy" if kind == "crushed tone" else "is airy: quick, thin and noisy"
    return f"The tone {what}, {_of(shown, of)}."


def starts(shown: int, of: int, scratched: int) -> str:
    """Slow or scratched starts."""
    how = "with a scratch" if scratched * 2 > shown else "slowly"
    return f"Strokes start {how}, {_of(shown, of)}."


def wobble(decibels: float, shown: int, of: int) -> str:
    """A level that trembles."""
    return f"The loudness trembles by {decibels:.1f} dB, 3 to 12 times a second, {_of(shown, of)}."


def between(times: int) -> str:
    """Noise between slurred notes."""
    return f"There is noise between slurred notes, {times} times, while the bow is steady."
