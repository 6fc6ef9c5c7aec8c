"""What a record's ± is made of, so that two phones' records can be put together as well as they deserve."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from dolcezza.core.base.arrays import Array


@dataclass(frozen=True)
class Parts:
    """n frames at ``t_s`` (n,): ``params`` (n, 4) contact (mm), angle (deg), inclination (deg), position (share); ``noise`` (n, 4, 4) from
    each frame's own picture; ``gain`` (n, 4, u) of the take's unknowns with ``take_covariance`` (u, u); ``string`` (n,) index, -1 = none;
    ``measured`` (n,) bool; ``prior_sd`` (n, 4): what was expected of the parameters in every frame before it was
    seen; ``cost`` (n,): how badly each frame's own picture fits a bow."""

    t_s: Array
    params: Array
    noise: Array
    gain: Array
    take_covariance: Array
    string: Array
    measured: Array
    prior_sd: Array
    cost: Array

    @property
    def covariance(self) -> Array:
        """All of it, (n, 4, 4)."""
        return np.asarray(self.noise + np.einsum("nak,kl,nbl->nab", self.gain, self.take_covariance, self.gain))

    def rows(self, rows: Array) -> Parts:
        """Some of the frames, in any order."""
        return replace(
            self, t_s=self.t_s[rows], params=self.params[rows], noise=self.noise[rows], gain=self.gain[rows], string=self.string[rows],
            measured=self.measured[rows], prior_sd=self.prior_sd[rows], cost=self.cost[rows],
        )  # fmt: skip
