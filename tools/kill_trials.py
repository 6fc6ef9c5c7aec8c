"""Kill the program at random moments, and look whether anything was lost or left:  ./run trials

``python tools/kill_trials.py [TRIALS] [SEED]``. Every trial is a process of its own that works in a copy of a studio (adds and removes
students, says things of a take, deletes strokes, takes it back) and is killed without warning. Then the studio is opened as ever: database
and files must agree, what was done must be there, and nothing may be left of what was not. Prints a table; 1 = something was wrong.
"""

from __future__ import annotations

import json
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from datetime import date
from pathlib import Path

import numpy as np

from dolcezza.core.base.job import finish
from dolcezza.core.strokes.edits import EditKind
from dolcezza.services import corrections, demo
from dolcezza.services.analysis import analyse
from dolcezza.services.studio import Studio
from dolcezza.storage.records import Student, Take

STEM = "demo-swing-1"
LONGEST_S = 2.5
"""A trial is killed within so long of its first work."""
WORK = ("add student", "remove student", "say", "delete stroke", "undo")

State = dict[str, int]


def state_of(studio: Studio, take: Take) -> State:
    """What a teacher would miss: students, words said, strokes and edits of the take."""
    stored = studio.analysis(take)
    said = len(studio.store.words.remarks(take.id))
    return {
        "students": len(studio.students()),
        "said": said,
        "strokes": len(stored.strokes) if stored else 0,
        "edits": len(studio.fit(take).strokes),
    }


def agree(studio: Studio, take: Take) -> list[str]:
    """What database and files do not agree about."""
    out = []
    stored = studio.analysis(take)
    if stored is None or not stored.folder.is_dir():
        return ["the measurement has no folder"]
    rows = (stored.folder / "strokes.csv").read_text().count("\n") - 1
    if rows != len(stored.strokes):
        out.append(f"{len(stored.strokes)} strokes in the database, {rows} in the files")
    folders = [p.name for p in (studio.folder / "takes" / str(take.id)).iterdir()]
    if folders != [stored.folder.name]:
        out.append(f"left over: {', '.join(sorted(set(folders) - {stored.folder.name}))}")
    out += [f"left over: {p.name}" for p in studio.folder.glob(".writing-*")]
    return out


def work(folder: Path, seed: int) -> None:
    """Work until killed. Before each piece of work what will be so after it is printed, and when it is done, that it is."""
    rng = np.random.default_rng(seed)
    studio = Studio(folder)
    take = studio.store.take(demo.fill(studio)[STEM])
    analysis = studio.analysis(take)
    assert analysis is not None
    added: list[int] = []
    undone: list[State] = []
    now = state_of(studio, take)
    for k in range(10_000):
        what = str(rng.choice(WORK))
        after = dict(now)
        if what == "add student":
            after["students"] += 1
        elif what == "remove student" and added:
            after["students"] -= 1
        elif what == "say":
            after["said"] += 1
        elif what == "delete stroke" and now["strokes"] > 3:
            after["strokes"], after["edits"] = now["strokes"] - 1, now["edits"] + 1
        elif what == "undo" and undone:
            after = undone[-1]
        else:
            continue
        print(json.dumps({"what": what, "before": now, "after": after}), flush=True)
        if what == "add student":
            added.append(
                studio.store.add_student(Student(f"Trial {seed} {k}", since=date(2026, 1, 1), lesson_day=-1, lesson_time="", note="")).id
            )
            undone.clear()
        elif what == "remove student":
            studio.delete_student(added.pop())
            undone.clear()
        elif what == "say":
            studio.review.remark(take.id, 1.0, f"said {k}")
            undone.append(now)
        elif what == "delete stroke":
            _delete_stroke(studio, take)
            undone.append(now)
        else:
            studio.undo.undo()
            undone.pop()
        now = after
        print(json.dumps({"done": now}), flush=True)


def _delete_stroke(studio: Studio, take: Take) -> None:
    before, fit = studio.analysis(take), studio.fit(take)
    assert before is not None
    at = before.strokes[0]
    wanted = corrections.stroke(fit, 0.5 * (at.start_s + at.end_s), EditKind.DELETE)
    limits = studio.profile_of(take, fit)
    found = finish(corrections.measured_nearby(wanted, take, before, profile=limits, exercise=None, recognise=True))
    studio.corrections.keep(take, before, fit, found)


def trial(whole: Path, folder: Path, seed: int) -> tuple[str, list[str]]:
    """One process, killed: what it was at, and what was found wrong afterwards."""
    shutil.copytree(whole, folder)
    process = subprocess.Popen(
        [sys.executable, __file__, "--work", str(folder), str(seed)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    first = process.stdout.readline()
    time.sleep(random.Random(seed).uniform(0, LONGEST_S))
    process.send_signal(signal.SIGKILL)
    rest, errors = process.communicate()
    lines = [json.loads(line) for line in [first, *rest.splitlines()] if line.strip().endswith("}")]
    faults = ["traceback: " + errors.strip().splitlines()[-1]] if "Traceback" in errors else []
    if not lines:
        return "opening", faults or ["it ended before it began"]
    last = lines[-1]
    could_be = [last["done"]] if "done" in last else [last["before"], last["after"]]
    try:
        studio = Studio(folder)
        studio.sweep()
        take = studio.store.take(demo.fill(studio)[STEM])
        found = state_of(studio, take)
        if found not in could_be:
            faults.append(f"lost: {found} instead of {' or '.join(map(str, could_be))}")
        faults += agree(studio, take)
        studio.close()
    except Exception as error:
        faults.append(f"{type(error).__name__}: {error}")
    return last.get("what", "between"), faults


def main(trials: int, seed: int) -> int:
    """Make a studio with one measured take, kill as often as is asked, print the table."""
    with tempfile.TemporaryDirectory(prefix="dolcezza-trials-") as place:
        whole = Path(place) / "whole"
        studio = Studio(whole)
        take = studio.store.take(demo.fill(studio)[STEM])
        kept = studio.store.latest_fit(take.id)
        assert kept is not None
        studio.save_analysis(take, kept[0], finish(analyse(take.path, studio.fit(take))))
        studio.close()
        killed: Counter[str] = Counter()
        wrong: list[str] = []
        for k in range(trials):
            what, faults = trial(whole, Path(place) / f"trial-{k}", seed + k)
            killed[what] += 1
            wrong += [f"trial {seed + k}, {what}: {fault}" for fault in faults]
            shutil.rmtree(Path(place) / f"trial-{k}")
    for what, count in killed.most_common():
        print(f"{what:18s} killed {count:4d} times")
    print(f"{trials} trials, {len(wrong)} faults")
    print("\n".join(wrong))
    return int(bool(wrong))


if __name__ == "__main__":
    if sys.argv[1:2] == ["--work"]:
        work(Path(sys.argv[2]), int(sys.argv[3]))
    else:
        numbers = [int(a) for a in sys.argv[1:3]]
        sys.exit(main(*(numbers + [60, 0][len(numbers) :])))
