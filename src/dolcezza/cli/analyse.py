"""``dolcezza analyse TAKE [TAKE] --fit FIT [FIT] --out DIR``, or ``--instrument NAME`` where nothing was set by hand."""

from __future__ import annotations

import argparse
import sys
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from dolcezza.cli.progress import with_progress
from dolcezza.core.assignment.use import bow_use
from dolcezza.core.base.errors import MediaError
from dolcezza.core.pipeline.fit_file import read_fit
from dolcezza.reports.language import language
from dolcezza.services.analysis import analyse, analyse_found, analyse_two, find_landmarks, second_fit
from dolcezza.services.assignment import RECOGNISE, against, read_exercise_file, write_match, write_use
from dolcezza.services.notation import against_notes, mei_of, performance_words, read_file, score_of, write_played
from dolcezza.services.phone_checks import read_check
from dolcezza.services.profiles import named_profile
from dolcezza.services.results import write_analysis, write_found
from dolcezza.storage.files import ready_folder

if TYPE_CHECKING:
    from dolcezza.core.assignment.exercise import Exercise
    from dolcezza.core.base.job import Work
    from dolcezza.core.findings.profiles import Profile
    from dolcezza.core.pipeline.fit_file import Fit
    from dolcezza.core.pipeline.measure import TakeAnalysis


def run_analyse(options: argparse.Namespace) -> int:
    """Measure one take, from one phone's video or two, and write its files. Raises DolcezzaError for bad input."""
    _check_count(options)
    ready_folder(options.out)
    wanted = None
    if options.exercise and options.exercise != RECOGNISE:
        wanted = read_exercise_file(Path(options.exercise))
    printed = score_of(mei_of(read_file(options.printed)), options.staff, title=options.printed.stem) if options.printed else None
    profile = named_profile(options.profile) if options.profile else None
    show = not options.quiet and sys.stderr.isatty()
    fits = [read_fit(f) for f in options.fit or ()] or [with_progress(find_landmarks(options.take[0], options.instrument), show)]
    if len(options.take) == 2 and len(fits) == 1:
        fits.append(with_progress(second_fit(options.take[1], fits[0]), show))
    if options.check:
        fits = [replace(f, check=read_check(options.check)) for f in fits]
    for number, fit in enumerate(fits, 1):
        if number > len(options.fit or ()) and fit.landmarks:
            write_found(fit, options.out, number)
    if len(fits) == 2:
        work = analyse_two((options.take[0], options.take[1]), (fits[0], fits[1]), profile=profile, exercise=wanted)
    elif options.fit:
        work = analyse(options.take[0], fits[0], profile=profile, exercise=wanted, first_strokes=False)
    else:
        work = _of_found(options, fits[0], profile, wanted)
    result: TakeAnalysis = with_progress(work, show)
    told = None
    if printed is not None:
        result, told = against_notes(result, printed)
    write_analysis(result, options.out)
    speed = float(result.series.t[-1]) / result.timings["total"]
    print(f"{len(result.strokes)} strokes, {len(result.findings)} findings, {speed:.1f} x real time: {options.out}")
    matched = None
    if options.exercise:
        how = against(result.strokes, result.fit.spec.strings, wanted)
        matched = how.match
        if matched is not None:
            write_match(matched, options.out)
        print(language("en").sentence(how.how))
    if told is not None:
        write_played(told, options.out)
        print(performance_words(told))
    hair_mm = result.fit.spec.hair_length
    write_use(bow_use(result.series, result.strokes, matched=matched, hair_mm=hair_mm, tempo_told=wanted is not None), options.out)
    for finding in result.findings:
        print(f"- {language('en').sentence(finding.message)}{'' if finding.sure else ' (not sure)'}")
    for note in result.notes:
        print(f"note: {language('en').sentence(note)}")
    return 0


def _of_found(options: argparse.Namespace, fit: Fit, profile: Profile | None, wanted: Exercise | None) -> Work[TakeAnalysis]:
    """Measure a take whose instrument was found; which hand bows may only be told then."""
    told, result = yield from analyse_found(options.take[0], fit, profile=profile, exercise=wanted)
    if told != fit:
        write_found(told, options.out, 1)
    return result


def _check_count(options: argparse.Namespace) -> None:
    """One video or two, and as many fit files. Raises MediaError."""
    if len(options.take) > 2:
        raise MediaError(
            f"{len(options.take)} videos are too many for one take.", "Name one, or the two that two phones made of one playing."
        )
    if options.fit and len(options.fit) > len(options.take):
        raise MediaError(
            f"There are {len(options.take)} videos and {len(options.fit)} fit files.",
            "Name a fit file for each video, in the same order; the second video of two can do without.",
        )
