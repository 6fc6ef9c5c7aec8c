"""Commands and options. A fault the user can mend ends with code 2 and one sentence on the error stream."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import dolcezza
from dolcezza.core.base.errors import DolcezzaError


def parser() -> argparse.ArgumentParser:
    """All commands with their options."""
    top = argparse.ArgumentParser(
        prog="dolcezza",
        description="Measures a string player's bowing from a phone video, stroke by stroke. Without a command it opens the desk.",
    )
    top.add_argument("--version", action="version", version=f"dolcezza {dolcezza.__version__}")
    top.add_argument("--studio", type=Path, help="studio folder for the desk (default: the XDG data place)")
    commands = top.add_subparsers(dest="command", metavar="COMMAND")
    analyse = commands.add_parser("analyse", help="analyse one video without a window, or two phones' videos of one playing")
    analyse.add_argument("take", type=Path, nargs="+", metavar="TAKE", help="video file, or two of the same playing")
    known = analyse.add_mutually_exclusive_group(required=True)
    known.add_argument("--fit", type=Path, nargs="+", metavar="FIT", help="fit file: instrument and landmarks (JSON), one a video")
    known.add_argument("--instrument", help='instrument and size ("violin 4/4"): its landmarks are found, and kept in DIR/found.fit.json')
    analyse.add_argument("--out", type=Path, required=True, help="folder for frames.csv, strokes.csv, findings.json, summary.json")
    analyse.add_argument("--profile", help="profile whose limits count: a name or a JSON file (default: the usual one)")
    analyse.add_argument("--exercise", help="what was to be played: a text file, or 'recognise'; writes match.json")
    analyse.add_argument("--printed", type=Path, help="the notes that are played (MusicXML, MXL, MEI, ABC); writes played.json")
    analyse.add_argument("--staff", type=int, default=1, help="which staff of them, from the top (default: 1)")
    analyse.add_argument("--check", type=Path, help="how true this phone measures from there: check.json of the command 'check'")
    analyse.add_argument("--quiet", action="store_true", help="no progress line")
    card = commands.add_parser("card", help="write the check card, a page to print and slide under the strings (SVG)")
    card.add_argument("instrument", help='instrument and size ("violin 4/4")')
    card.add_argument("--out", type=Path, required=True, help="the page, ending in .svg")
    card.add_argument("--left-handed", action="store_true", help="for a left-handed player's instrument")
    check = commands.add_parser("check", help="say how true a phone measures, from a video of the bow laid on the check card's lines")
    check.add_argument("take", type=Path, metavar="TAKE", help="video file")
    known = check.add_mutually_exclusive_group(required=True)
    known.add_argument("--fit", type=Path, help="fit file: instrument and landmarks (JSON)")
    known.add_argument("--instrument", help='instrument and size ("violin 4/4"): its landmarks are found')
    check.add_argument("--out", type=Path, required=True, help="folder for check.json and what was measured")
    check.add_argument("--ruler", type=float, default=100.0, help="how long the printed ruler is, mm (default: 100)")
    check.add_argument("--name", default="", help="the phone and where it stands (default: the video's name)")
    check.add_argument("--quiet", action="store_true", help="no progress line")
    hold = commands.add_parser("hold", help="tell the bow hold from stills of the hand")
    hold.add_argument("images", type=Path, nargs="+", metavar="IMAGE", help="pictures of the bow hand, or close-up videos")
    hold.add_argument("--out", type=Path, required=True, help="folder for hold.csv")
    hold.add_argument("--left-handed", action="store_true", help="the player bows with the left hand")
    plan = commands.add_parser("plan", help="divide the bow for a rhythm")
    plan.add_argument("file", type=Path, help="rhythm as a text file")
    plan.add_argument("--instrument", default="violin 4/4", help="instrument and size (default: violin 4/4)")
    plan.add_argument("--exercise", type=Path, help="write the best way as an exercise to this file")
    export = commands.add_parser("export", help="write everything of the students as open files")
    export.add_argument("--out", type=Path, required=True, help="folder; each student gets one in it")
    export.add_argument("--student", help="only the student of this name")
    restore = commands.add_parser("restore", help="put back a copy of the studio where its database is damaged")
    restore.add_argument("day", nargs="?", help="the copy of this day, as 2026-11-28 (default: the newest)")
    restore.add_argument("--list", action="store_true", help="only say which copies there are")
    archive = commands.add_parser("archive", help="write everything of the students as one file that can be taken in again")
    archive.add_argument("file", type=Path, help="the archive, ending in .zip")
    archive.add_argument("--student", help="only the student of this name")
    archive.add_argument("--videos", action="store_true", help="the videos and pictures too")
    archive.add_argument("--quiet", action="store_true", help="no progress line")
    take_in = commands.add_parser("take-in", help="take in the students of an archive beside those who are there")
    take_in.add_argument("file", type=Path, help="the archive")
    take_in.add_argument("--videos-to", type=Path, help="folder for the videos in it (default: one beside the archive)")
    take_in.add_argument("--quiet", action="store_true", help="no progress line")
    videos = commands.add_parser("open", help="open the desk with videos to add; the word itself may be left out")
    videos.add_argument("videos", type=Path, nargs="+", metavar="VIDEO", help="video file")
    simulate = commands.add_parser("simulate", help="film a made-up player who plays a script, with the truth beside the video")
    simulate.add_argument("script", type=Path, help="what is played and how it is filmed (TOML)")
    simulate.add_argument("--out", type=Path, required=True, help="folder for the video, its fit file and its truth")
    simulate.add_argument("--quiet", action="store_true", help="no progress line")
    setup = commands.add_parser("setup", help="get the models for arm and hand, once; the only command that uses the network")
    setup.add_argument("--archive", type=Path, help="the package that holds them, where it was fetched before: no network then")
    demo = commands.add_parser("demo", help="open the made-up demo studio and analyse a video")
    demo.add_argument("--out", type=Path, default=Path("demo-output"), help="folder for picture and files where there is no display")
    return top


def with_open(arguments: list[str]) -> list[str]:
    """What a file manager starts the program with (videos alone) as the command ``open``."""
    if arguments and not arguments[0].startswith("-") and Path(arguments[0]).is_file():
        return ["open", *arguments]
    return arguments


def run(options: argparse.Namespace) -> int:
    """Run a command that needs no window and return its exit code."""
    try:
        if options.command == "hold":
            from dolcezza.cli.hold import run_hold

            return run_hold(options)
        if options.command == "plan":
            from dolcezza.cli.plan import run_plan

            return run_plan(options)
        if options.command in ("card", "check"):
            from dolcezza.cli.check import run_card, run_check

            return run_card(options) if options.command == "card" else run_check(options)
        if options.command == "export":
            from dolcezza.cli.export import run_export

            return run_export(options)
        if options.command == "restore":
            from dolcezza.cli.restore import run_restore

            return run_restore(options)
        if options.command in ("archive", "take-in"):
            from dolcezza.cli.archive import run_archive, run_take_in

            return run_archive(options) if options.command == "archive" else run_take_in(options)
        if options.command == "simulate":
            from dolcezza.cli.simulate import run_simulate

            return run_simulate(options)
        if options.command == "setup":
            from dolcezza.cli.setup import run_setup

            return run_setup(options)
        from dolcezza.cli.analyse import run_analyse

        return run_analyse(options)
    except DolcezzaError as error:
        print(f"dolcezza: {error}", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        print("dolcezza: The work was stopped; nothing was written.", file=sys.stderr)
        return 130
