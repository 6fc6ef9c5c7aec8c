"""``dolcezza card INSTRUMENT`` and ``dolcezza check TAKE``: how true a phone measures from where it stands."""

from __future__ import annotations

import argparse
import sys
from datetime import date
from typing import TYPE_CHECKING

from dolcezza.cli.progress import with_progress
from dolcezza.core.check.compare import CheckError
from dolcezza.core.instrument.catalog import instrument
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.reports.check_card import card_svg
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse, find_landmarks
from dolcezza.services.phone_checks import checked, kept, write_check
from dolcezza.services.results import write_analysis, write_found
from dolcezza.storage.files import ready_folder, write_whole

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis


def run_card(options: argparse.Namespace) -> int:
    """Write the card of an instrument. Raises DolcezzaError."""
    handed = "left" if options.left_handed else "right"
    write_whole(options.out, card_svg(instrument(options.instrument), language("en"), handed=handed))
    print(f"The card, A4 at true size: {options.out}")
    return 0


def run_check(options: argparse.Namespace) -> int:
    """Measure a video of holds on the card and say how true it came out. Raises DolcezzaError for bad input."""
    ready_folder(options.out)
    show = not options.quiet and sys.stderr.isatty()
    fit = read_fit(options.fit) if options.fit else with_progress(find_landmarks(options.take, options.instrument), show)
    if fit.check is not None or fit.zero:
        raise CheckError("The fit file has a check or a zero in it.", "Take both out of it and check again.")
    if not options.fit:
        write_found(fit, options.out, 1)
    measured: TakeAnalysis = with_progress(analyse(options.take, fit, first_strokes=False), show)
    write_analysis(measured, options.out)
    result = checked(measured.series, measured.fit, ruler_mm=options.ruler)
    assert measured.cache is not None
    check = kept(result, fit, measured.cache.poses, name=options.name or options.take.stem, day=date.today())
    write_check(check, result, options.out / "check.json")
    for row in result.rows:
        print(
            f"{row.hold.middle_s:6.1f} s  {row.asked.angle_deg:+4.0f} degrees, {row.asked.contact_mm:3.0f} mm:"
            f" {row.off_deg:+.1f} degrees, {row.off_mm:+.1f} mm off{' (left out)' if row.left_out else ''}"
        )
    print(language("en").sentences(result.messages))
    return 0
