"""What a stage opens: its drills, exercises and checks (common practice, no source: the order of a first year)."""

from __future__ import annotations

from dataclasses import dataclass

from dolcezza.core.findings.choices import Stage


@dataclass(frozen=True)
class Opens:
    """Keys of ``drills`` and of the small ``checks``, names of ``exercises``."""

    drills: tuple[str, ...]
    exercises: tuple[str, ...]
    checks: tuple[str, ...]


OPENS: dict[Stage, Opens] = {
    Stage.FIRST_HOLD: Opens(("D3", "D4", "D6", "D1", "D2", "D24"), (), ("arm_drop", "thumb_tug", "ring", "little_off")),
    Stage.FIRST_BOWS: Opens(("D5", "D7", "D8", "D11"), ("Two long on each string",), ("tap", "wave")),
    Stage.LONG_BOWS: Opens(("D15", "D18", "D9", "D20"), ("Long open strings", "Long open strings, treble to bass and back"), ("arm_drop",)),
    Stage.PORTIONS: Opens(
        ("D16", "D17", "D19", "D13", "D12", "D14"),
        ("Lower halves", "Upper halves, treble to bass and back", "Four long, four short", "Two long, four short", "Six short, eight long"),
        ("little_off",),
    ),
    Stage.MUSIC: Opens(("D21", "D22", "D23", "D10"), ("Four notes to a bow", "Twice as many notes, the bow unchanged"), ()),
}  # fmt: skip


def opened(stage: Stage) -> Opens:
    """Everything that is open at a stage, the newest first."""
    order = tuple(Stage)
    so_far = [OPENS[s] for s in reversed(order[: order.index(stage) + 1])]
    return Opens(
        tuple(k for o in so_far for k in o.drills), tuple(k for o in so_far for k in o.exercises),
        tuple(dict.fromkeys(k for o in so_far for k in o.checks)),
    )  # fmt: skip
