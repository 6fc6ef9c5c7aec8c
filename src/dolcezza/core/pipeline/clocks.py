"""The clocks of two phones laid together: by their sound, then by how the bow moves in both."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError
from dolcezza.core.bowing.same_bow import SAME_BOW, BowClock, lay_bows
from dolcezza.core.media.audio import read_sound
from dolcezza.core.pipeline.measure import TakeAnalysis
from dolcezza.core.sound.pitch import RATE_HZ
from dolcezza.core.sound.together import Together, lay_together

NEAR_SOUND_S = 0.3
"""Sound may run before or behind the picture by so much in either phone together."""
MOST_SHARE = 0.6
"""Where the sound does not tell, so much of the playing must be seen by both and run together."""
BY_SOUND_SD_S = 0.02
"""Where the bow's motion does not tell the moment: sound and picture of a phone run apart by about so much."""


@dataclass(frozen=True)
class Clocks:
    """A moment t of the first video is ``t + offset_s + drift * t`` in the second, ± ``sd_s``."""

    offset_s: float
    drift: float
    sd_s: float

    def second(self, t_s: Array) -> Array:
        """Moments of the first (n,) s on the second's clock."""
        return t_s + self.offset_s + self.drift * t_s

    def put_right(self, late_s: float) -> Clocks:
        """The same for pictures of the second that by this clock come ``late_s`` after what they show."""
        return replace(self, offset_s=self.offset_s + late_s)

    def first(self, t_s: Array) -> Array:
        """Moments of the second (n,) s on the first's clock."""
        return (t_s - self.offset_s) / (1 + self.drift)


def clocks(first: TakeAnalysis, second: TakeAnalysis, sound: Together | None, late_s: float) -> Clocks:
    """Two videos' clocks laid together: by their sound, then by how the bow moves in both. ``late_s``: by how much more the first one's
    sound comes behind its picture. Raises MediaError where they are not of one playing."""
    by_sound = sound.offset_s + late_s if sound is not None else None
    drift = sound.drift if sound is not None and sound.sure else 0.0
    # on a second clock that goes as the first one does
    t_first, t_second = first.series.t, second.series.t / (1 + drift)
    pair = (t_first, first.series["bow_position"], t_second, second.series["bow_position"])
    found: BowClock | None = None
    if sound is not None and by_sound is not None:
        found = lay_bows(*pair, near_s=by_sound, reach_s=NEAR_SOUND_S, least_share=0.0 if sound.sure else MOST_SHARE)
        if found is None and sound.sure:
            return Clocks(by_sound, drift, BY_SOUND_SD_S)
    elif sound is None:
        whole = max(float(t_first[-1]), float(t_second[-1])) - 1.0
        found = lay_bows(*pair, near_s=0.0, reach_s=whole, least_share=MOST_SHARE)
    if found is None or not found.same or ((sound is None or not sound.sure) and found.apart > 0.5 * SAME_BOW):
        raise MediaError(
            "These two videos do not seem to be of the same playing: neither sound nor bow run together.",
            "Film one playing with both phones at the same time, with sound.",
        )
    if by_sound is None or sound is None or not sound.sure:
        return Clocks(found.offset_s, 0.0, found.sd_s)
    weights = np.array([found.sd_s, BY_SOUND_SD_S]) ** -2.0
    offset = float(weights @ [found.offset_s * (1 + drift), by_sound] / weights.sum())
    return Clocks(offset, drift, float(weights.sum() ** -0.5))


def sounds(videos: tuple[Path, Path]) -> Together | None:
    """How the sound of two videos lies to each other; None where one has none."""
    read = [read_sound(v, rate_hz=RATE_HZ) for v in videos]
    if read[0] is None or read[1] is None:
        return None
    return lay_together(read[0][0], read[1][0], rate_hz=RATE_HZ, starts_s=(read[0][1], read[1][1]))
