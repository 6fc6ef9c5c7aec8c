"""How true a phone measures from where it stands: holds on the check card, kept by phone and place in the studio's folder."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.core.bowing.known_bias import NO_BIAS
from dolcezza.core.bowing.series import BowSeries
from dolcezza.core.camera.poses import Poses
from dolcezza.core.check.card import RULER_MM, CheckCard
from dolcezza.core.check.compare import CheckError, CheckResult, compare
from dolcezza.core.check.holds import find_holds
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.fit_file import Fit
from dolcezza.core.pipeline.place import phone_place
from dolcezza.storage.files import write_whole
from dolcezza.storage.packed import CACHE_FILE, read_packed
from dolcezza.storage.records import StoredAnalysis
from dolcezza.storage.tables import to_json

FILE = "checks.json"
RULER_BETWEEN = (60.0, 140.0)
"""A printed ruler of 100 mm that measures less or more was not read rightly, mm."""
MOST = 100


def checked(series: BowSeries, fit: Fit, *, ruler_mm: float = RULER_MM) -> CheckResult:
    """Compare the holds of a record with the card of its instrument, whose printed ruler measures ``ruler_mm``. Raises CheckError."""
    if not RULER_BETWEEN[0] <= ruler_mm <= RULER_BETWEEN[1]:
        raise CheckError(f"The printed ruler cannot be {ruler_mm:g} mm long.", f"It is printed as {RULER_MM:g} mm; measure it again.")
    card = CheckCard.of(instrument(fit.instrument))
    return compare(find_holds(series, fit.spec.hair_length), card.holds(ruler_mm / RULER_MM))


def checked_take(stored: StoredAnalysis, fit: Fit, *, name: str, day: date, ruler_mm: float = RULER_MM) -> tuple[CheckResult, PhoneCheck]:
    """A check from a measured take of the studio. Raises CheckError, StudioError where too little was kept of the measurement."""
    from dolcezza.core.pipeline.cache import MeasurementCache

    cache = read_packed(MeasurementCache, stored.folder / CACHE_FILE)
    if cache is None:
        raise StudioError("Of this video too little was kept to check the phone with it.", "Analyse it again.")
    # what was measured counts, not what the fit says by now
    if cache.known != NO_BIAS or cache.zero is not None:
        raise CheckError("This video was measured with a check or a zero already.", "Take both away, analyse it again, and check it then.")
    result = checked(stored.series, fit, ruler_mm=ruler_mm)
    return result, kept(result, fit, cache.poses, name=name, day=day)


def kept(result: CheckResult, fit: Fit, poses: Poses, *, name: str, day: date) -> PhoneCheck:
    """A result with what it was made with."""
    return PhoneCheck.of(result, name=name, day=day.isoformat(), instrument=fit.instrument, place=phone_place(poses))


def write_check(check: PhoneCheck, result: CheckResult, path: Path) -> Path:
    """Write the figures alone as JSON: no picture, no name of a student. Raises StudioError."""
    write_whole(Path(path), to_json({**check.to_dict(), "held": list(result.held), "holds_found": result.to_dict()["holds"]}))
    return Path(path)


def read_check(path: Path) -> PhoneCheck:
    """Read a check that was written. Raises CheckError."""
    try:
        return PhoneCheck.from_dict(json.loads(Path(path).read_text(encoding="utf-8")))
    except FileNotFoundError:
        raise CheckError(f"There is no check {Path(path).name}.", "Name another file.") from None
    except (OSError, *UNREADABLE) as error:
        raise CheckError(f"The check {Path(path).name} cannot be read.", "It is a JSON file that this program wrote.") from error


class CheckBook:
    """Checks by their name, newest first; every change is kept at once. What cannot be read is passed over."""

    def __init__(self, folder: Path) -> None:
        self._path = Path(folder) / FILE
        self.checks: list[PhoneCheck] = self._read()

    def _read(self) -> list[PhoneCheck]:
        try:
            entries = json.loads(self._path.read_text(encoding="utf-8"))["checks"]
        except (OSError, *UNREADABLE):
            return []
        found = []
        for entry in entries if isinstance(entries, list) else []:
            try:
                found.append(PhoneCheck.from_dict(entry))
            except UNREADABLE:
                continue
        return found

    def keep(self, check: PhoneCheck) -> None:
        """Keep a check; another of this name and instrument is replaced. Raises StudioError."""
        if not check.name.strip():
            raise StudioError("The check has no name.", "Name the phone and where it stands.")
        rest = [c for c in self.checks if (c.name, c.instrument) != (check.name, check.instrument)]
        self._put([check, *rest][:MOST])

    def forget(self, check: PhoneCheck) -> None:
        """Remove a check; videos that were measured with it keep it. Raises StudioError."""
        self._put([c for c in self.checks if c != check])

    def _put(self, checks: list[PhoneCheck]) -> None:
        write_whole(self._path, to_json({"checks": [c.to_dict() for c in checks]}))
        self.checks = checks
