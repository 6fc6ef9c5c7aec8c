"""``dolcezza analyse TAKE --fit FIT --out DIR``, or ``--instrument NAME`` where nothing was set by hand."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from dolcezza.cli.progress import with_progress
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse, find_landmarks
from dolcezza.services.assignment import RECOGNISE, against, read_exercise_file, write_match, write_use
from dolcezza.services.profiles import named_profile
from dolcezza.services.results import write_analysis, write_found
from dolcezza.storage.files import ready_folder

if TYPE_CHECKING:
    from dolcezza.core.pipeline.measure import TakeAnalysis


def run_analyse(options: argparse.Namespace) -> int:
    """Measure one take and write its files. Raises DolcezzaError for bad input."""
    ready_folder(options.out)
    wanted = None
    if options.exercise and options.exercise != RECOGNISE:
        wanted = read_exercise_file(Path(options.exercise))
    profile = named_profile(options.profile) if options.profile else None
    show = not options.quiet and sys.stderr.isatty()
    fit = read_fit(options.fit) if options.fit else with_progress(find_landmarks(options.take, options.instrument), show)
    if not options.fit:
        write_found(fit, options.out)
    result: TakeAnalysis = with_progress(analyse(options.take, fit, profile=profile, exercise=wanted, first_strokes=False), show)
    write_analysis(result, options.out)
    speed = float(result.series.t[-1]) / result.timings["total"]
    print(f"{len(result.strokes)} strokes, {len(result.findings)} findings, {speed:.1f} x real time: {options.out}")
    matched = None
    if options.exercise:
        how = against(result.strokes, result.fit.spec.strings, wanted)
        matched = how.match
        if matched is not None:
            write_match(matched, options.out)
        print(how.sentence)
    hair_mm = result.fit.spec.hair_length
    write_use(bow_use(result.series, result.strokes, matched=matched, hair_mm=hair_mm, tempo_told=wanted is not None), options.out)
    for finding in result.findings:
        print(f"- {language('en').sentence(finding.message)}{'' if finding.sure else ' (not sure)'}")
    for note in result.notes:
        print(f"note: {language('en').sentence(note)}")
    return 0
