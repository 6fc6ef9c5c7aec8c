"""A measured take that is mended."""

from __future__ import annotations

import pytest

from dolcezza.core.base.job import finish
from dolcezza.services import corrections


@pytest.fixture
def mend(studio):
    """Mends the measured take of the demo studio: ``mend(fit -> Correction)`` gives what was stored before and after."""
    take = next(s.take for st in studio.students() for s in studio.takes(st.id) if s.analysed)

    def do(make):
        before, fit = studio.analysis(take), studio.fit(take)
        wanted = make(fit)
        found = finish(
            corrections.measured_nearby(wanted, take, before, profile=studio.profile_of(take, fit), exercise=None, recognise=True)
        )  # fmt: skip
        studio.corrections.keep(take, before, fit, found)
        return before, studio.analysis(take)

    do.take, do.studio = take, studio
    return do
