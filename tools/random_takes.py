"""Film takes drawn by chance:  python tools/random_takes.py FOLDER FROM TO

Take N of the seeds FROM to TO (without TO) is always the same one: some instrument that differs from its table, player, posture, phone,
room, light, sound and playing. What lies in FOLDER already is not filmed again. ``against_truth.py FOLDER`` measures them.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from pathlib import Path

import numpy as np

from dolcezza.core.base.job import finish
from dolcezza.core.instrument.catalog import CATALOG, InstrumentSpec
from dolcezza.simulator.chance import DIFFERS
from dolcezza.simulator.film import film
from dolcezza.simulator.script import Bow, PhoneScript, PlayerScript, Script, SoundScript, Three, checked

KINDS = ("whole", "crooked", "quick", "slurs", "stops", "pairs", "slow", "halves", "retakes", "lesson")


def drawn(seed: int) -> Script:
    """The take of a seed."""
    rng = np.random.default_rng(90_000 + seed)
    family = str(rng.choice(["violin", "viola", "cello"], p=[0.5, 0.2, 0.3]))
    name = str(rng.choice([n for n in CATALOG if n.startswith(family)]))
    cello, size = family == "cello", CATALOG[name].body_scale
    differs = {k: float(np.clip(rng.normal(), -2, 2)) * sd for k, sd in DIFFERS.items()}
    kind = KINDS[seed % len(KINDS)]
    player = PlayerScript(
        size=float(np.clip(0.35 + 0.65 * size + 0.05 * rng.normal(), 0.6, 1.12)),
        left_deg=float(rng.uniform(-3, 3)) if cello else float(rng.uniform(25, 60)),
        tilt_deg=float(rng.uniform(16, 32)) if cello else float(rng.uniform(10, 38)), rise_deg=0.0 if cello else float(rng.normal() * 6),
        sway_mm=float(rng.choice([0, 8, 20, 35])), turn_deg=float(rng.choice([0, 2, 4, 6])), left_hand=float(rng.uniform(0.1, 0.5)),
        sleeves=float(rng.choice([0.2, 0.6, 1.2])), lean_deg=float(rng.normal() * 1.2), bow_tilt_deg=float(rng.uniform(-3, 22)), seed=seed,
    )  # fmt: skip
    small = bool(rng.random() < 0.85)
    far_mm = float(rng.uniform(1500, 2100)) * (1.15 if cello else 1) * (0.6 + 0.4 * size)
    phone = PhoneScript(
        side_deg=float(rng.uniform(-20, 40)), high_deg=float(rng.uniform(5, 30)), far_mm=far_mm, view_deg=float(rng.uniform(50, 66)),
        width=960 if small else 1280, height=540 if small else 720, rate=float(rng.choice([24, 25, 30])), barrel=float(rng.normal() * 0.02),
        shake_px=float(rng.choice([0, 0, 0.6, 1.5])), noise=float(rng.uniform(0.004, 0.014)), exposure=float(rng.uniform(0.2, 0.42)),
        exposure_swing=float(rng.choice([0, 0, 0.1])), warm=float(rng.choice([0, 0.2, 0.5])), shutter=float(rng.choice([0, 0, 0, 0.3])),
        rolling=float(rng.choice([0] * 7 + [0.5])), sharpen=float(rng.uniform(0, 0.8)), kbit=int(rng.choice([900, 1600, 2500])),
    )  # fmt: skip
    sound = SoundScript(
        late_ms=float(rng.uniform(-20, 90)), noise=float(rng.choice([0.003, 0.006, 0.012])), roughness=float(rng.uniform(0, 0.4)),
        talk=float(rng.choice([0, 0, 0.5])), piano=float(rng.choice([0, 0, 0, 0.3])), echo_s=float(rng.choice([0, 0.2, 0.5])),
    )  # fmt: skip
    script = Script(
        instrument=name, handed="left" if rng.random() < 0.12 else "right", bows=played(kind, CATALOG[name], rng), seed=seed,
        clutter=bool(rng.random() < 0.7), bow_looks=str(rng.choice(["usual", "any", "any", "dark"], p=[0.5, 0.2, 0.2, 0.1])),
        differs=differs, player=player, phone=phone, sound=sound,
    )  # fmt: skip
    return checked(script)


def played(kind: str, spec: InstrumentSpec, rng: np.random.Generator) -> tuple[Bow, ...]:
    """The bows of a kind of playing. Down- and up-bows follow one another but in retakes."""
    strings, lane = spec.strings, rng.uniform(0.38, 0.6) * spec.bridge_to_fingerboard
    across = rng.normal(size=2) * 1.2
    swing: Three = (
        (float(rng.uniform(-9, -4)), 0.0, float(rng.uniform(5, 11))) if kind == "crooked" else (0.0, float(across[0]), float(across[1]))
    )
    here = int(rng.integers(len(strings)))
    bows: list[Bow] = []

    def bow(seconds: float, low: float, high: float, *, down: bool, stop: str | None = None, **more: object) -> None:
        low, high = (float(np.clip(v + 0.02 * rng.normal(), 0.01, 0.99)) for v in (low, high))
        frog, middle, tip = (float(lane * (1 + 0.05 * rng.normal())) for _ in range(3))
        seconds *= float(rng.uniform(0.9, 1.12))
        plain = Bow(stop or strings[here], seconds, *((low, high) if down else (high, low)), (frog, middle, tip), swing)
        bows.append(replace(plain, **more))  # type: ignore[arg-type]

    count = {"quick": 14, "slow": 2, "slurs": 4, "lesson": 8}.get(kind, 6)
    for k in range(count):
        down, every = k % 2 == 0, {"quick": 6, "slow": 1, "stops": 4}.get(kind, 2)
        if k and k % every == 0:
            here = int(np.clip(here + rng.choice([-1, 1]), 0, len(strings) - 1))
        if kind in ("whole", "crooked"):
            bow(1.5, 0.05, 0.93, down=down)
        elif kind == "quick":
            middle = rng.uniform(0.35, 0.6)
            bow(float(rng.choice([0.3, 0.45])), middle - 0.14, middle + 0.14, down=down, notes=(float(rng.choice([0, 2, 4])),))
        elif kind == "slurs":
            notes = rng.choice([0, 2, 4, 5, 7], int(rng.choice([2, 3, 4])), replace=False)
            bow(2.2, 0.08, 0.9, down=down, notes=tuple(float(n) for n in notes))
        elif kind == "stops":
            bow(0.8, 0.15, 0.8, down=down)
            if rng.random() < 0.7:
                bows.append(Bow(strings[here], float(rng.uniform(0.25, 0.8)), rest="string"))
        elif kind == "pairs":
            two = strings[max(0, here - 1) : max(0, here - 1) + 2]
            bow(1.3, 0.08, 0.9, down=down, stop=two if k % 3 else None)
        elif kind == "slow":
            bow(6.0, 0.03, 0.95, down=down)
        elif kind == "halves":
            low = 0.05 if k < 3 else 0.5
            if k == 3:
                bows.append(Bow(strings[here], 0.5, rest="string"))
            bow(1.0, low, low + 0.43, down=down, lift=k == 3)
        elif kind == "retakes":
            if k > 0:
                bows.append(Bow(strings[here], 0.5, rest="string"))
            bow(1.2, 0.06, 0.8, down=True, lift=k > 0)
        else:
            bow(1.1, 0.08, 0.9, down=down)
            if k % 3 == 2:
                bows.append(Bow(strings[here], float(rng.uniform(1.5, 3)), rest=str(rng.choice(["string", "air", "hang"]))))
    return tuple(bows)


def main(folder: Path, seeds: range) -> None:
    """Film, take by take."""
    for seed in seeds:
        name = f"r{seed:03d}-{KINDS[seed % len(KINDS)]}"
        if not (folder / f"{name}.truth.json").exists():
            finish(film(drawn(seed), folder, name))
            print(name, flush=True)


if __name__ == "__main__":
    main(Path(sys.argv[1]), range(int(sys.argv[2]), int(sys.argv[3])))
