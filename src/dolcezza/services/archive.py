"""Students, or all of a studio, out into one open file and in again, on this machine or another."""

from __future__ import annotations

import json
import shutil
import tempfile
import zipfile
from collections.abc import Callable, Collection
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

from dolcezza.core.assignment.text import read_exercise, write_exercise
from dolcezza.core.base.errors import UNREADABLE, DolcezzaError, StudioError
from dolcezza.core.base.job import Progress, Stage, Work
from dolcezza.core.check.kept import PhoneCheck
from dolcezza.core.media.probe import fingerprint
from dolcezza.core.score.mei import read_mei
from dolcezza.services.exercises import ExerciseShelf
from dolcezza.services.notation import NotationShelf
from dolcezza.services.pairs import PairBook
from dolcezza.services.phone_checks import CheckBook
from dolcezza.services.profiles import ProfileShelf
from dolcezza.storage.archive import (
    SHOWN,
    Content,
    bring_in,
    new_archive,
    newest_only,
    place_of,
    put_head,
    read_content,
    room_for,
    rows_of,
    unpack,
)  # fmt: skip
from dolcezza.storage.files import disk_faults
from dolcezza.storage.records import Written
from dolcezza.storage.studio import StudioStore

SUFFIX = ".zip"
WHOLE = "archive of the studio"
"""What an archive that holds others too is noted as; it does not go with one of them."""
ONE = "archive"
PAIRS = "pairs/pairs.json"
"""Which takes of the archive are of one playing, by their ids in it."""


@dataclass(frozen=True)
class TakenIn:
    """Who came in, by the name they have here now, and who was left out because they are here already."""

    came: tuple[str, ...]
    here: tuple[str, ...]


class Archiving:
    """Long work as generators of ``Progress``; whoever stops them leaves nothing half done."""

    def __init__(self, store: StudioStore, shelf: ProfileShelf, exercises: ExerciseShelf, notation: NotationShelf, pairs: PairBook) -> None:
        self._store, self._shelf, self._exercises, self._notation, self._pairs = store, shelf, exercises, notation, pairs

    # out

    def write(
        self, target: Path, student_id: int | None = None, *, videos: bool = False, without_videos: Collection[int] = ()
    ) -> Work[Path]:
        """Write one student (None = everybody) with everything measured, said and planned; ``videos``: the videos and pictures too, but not
        those of students ``without_videos``.

        Raises StudioError.
        """
        target, store = Path(target), self._store
        if target.suffix.lower() != SUFFIX:
            raise StudioError(f"{target.name} is no name for an archive.", "Let it end in .zip.")
        chosen = [s.id for s in store.students() if student_id is None or s.id == student_id]
        if not chosen:
            raise StudioError("There is nobody to be written.", "Add a student first.")
        tables = rows_of(store.database, chosen)
        newest_only(tables)
        content = Content(date.today().isoformat(), tables, self._papers(tables, everything=student_id is None))
        folders = [(r["take_id"], store.folder / r["folder"]) for r in tables["analyses"]]
        files = [(f"takes/{t}/{d.name}/{f.name}", f) for t, d in folders if d.is_dir() for f in sorted(d.iterdir()) if f.is_file()]
        wanted = [(n, r) for n in SHOWN for r in tables[n] if videos and r["student_id"] not in without_videos]
        shown = [(n, r) for n, r in wanted if r["path"] and Path(r["path"]).is_file()]
        files += [(f"media/{n}/{r['id']}/{Path(r['path']).name}", Path(r["path"])) for n, r in shown]
        room_for([(target.parent, sum(f.stat().st_size for _, f in files))])
        with new_archive(target) as out:
            put_head(out, content)
            for k, (name, path) in enumerate(files):
                yield Progress(Stage.ARCHIVE, k, len(files))
                # pictures and videos are as small as they get
                out.write(path, name, zipfile.ZIP_STORED if name.startswith("media/") else None)
        for one in chosen:
            store.keeping.wrote(Written(one, WHOLE if student_id is None else ONE, target.absolute(), date.today()))
        return target

    def _papers(self, tables: dict[str, list[dict[str, Any]]], *, everything: bool) -> dict[str, str]:
        """Own profiles that the students have or had, all for ``everything``; then the own exercises, pieces and checks of phones too."""
        used = {r["profile"] for n in ("students", "analyses", "dismissals") for r in tables[n]}
        used |= {r["value"] for r in tables["dated"] if r["what"] == "profile"}
        names = self._shelf.all() if everything else used & set(self._shelf.all())
        own = {n: f for n in sorted(names) if (f := self._shelf.file_of(n)) is not None}
        papers = {f"profiles/{f.name}": json.dumps(self._shelf.data(n), ensure_ascii=False) for n, f in own.items()}
        takes = {r["id"] for r in tables["takes"]}
        if joined := [(k, second) for k in sorted(takes) if (second := self._pairs.of(k)) in takes]:
            papers[PAIRS] = json.dumps(joined)
        if everything:
            papers |= {f"exercises/{k}.txt": write_exercise(e) for k, e in enumerate(self._exercises.own().values(), 1)}
            papers |= {f"notation/{name}.mei": self._notation.mei(name) for name in self._notation.names()}
            checks = CheckBook(self._store.folder).checks
            papers |= {f"checks/{k}.json": json.dumps(c.to_dict(), ensure_ascii=False) for k, c in enumerate(checks, 1)}
        return papers

    # in

    def take_in(self, source: Path, videos_to: Path | None = None) -> Work[TakenIn]:
        """Take an archive's students in beside those who are here. Videos in it go to ``videos_to`` (None: a folder beside the archive).

        Whoever is here already (one of their videos is, or their name with the same first day) stays as they are here. Raises StudioError;
        nothing came in then.
        """
        source = Path(source)
        try:
            archive = zipfile.ZipFile(source)
        except (OSError, zipfile.BadZipFile, NotImplementedError, ValueError) as error:
            raise StudioError(f"{source.name} is not an archive of a studio.", "Choose a file that was written as one.") from error
        with archive:
            content = read_content(archive)
            here = self._here(content)
            came = [r for r in content.tables["students"] if r["id"] not in here]
            if not came:
                names = ", ".join(here.values()) or "nobody"
                raise StudioError(f"Nobody new is in this archive: {names}.", "Remove somebody first, if the archive is to count instead.")
            wanted = _only(content.tables, {r["id"] for r in came})
            yield from self._bring(archive, content, wanted, Path(videos_to or source.with_suffix("")))
        return TakenIn(tuple(r["name"] for r in came), tuple(here.values()))

    def _here(self, content: Content) -> dict[int, str]:
        """Old id and name of those who are in this studio already."""
        mine = {(s.name.casefold(), s.since.isoformat()) for s in self._store.students()}
        known = {t["student_id"] for t in content.tables["takes"] if self._store.take_by_fingerprint(t["fingerprint"]) is not None}
        rows = content.tables["students"]
        return {r["id"]: r["name"] for r in rows if r["id"] in known or (r["name"].casefold(), r["since"]) in mine}

    def _bring(self, archive: zipfile.ZipFile, content: Content, tables: dict[str, list[dict[str, Any]]], videos_to: Path) -> Work[None]:
        takes = {t["id"] for t in tables["takes"]}
        staged = self._store.folder / "takes"
        with disk_faults(staged):
            staged.mkdir(exist_ok=True, mode=0o700)
            base = Path(tempfile.mkdtemp(dir=staged, prefix=".writing-"))
        brought: list[Path] = []
        kept: list[Callable[[], object]] = []
        try:
            files = [(m, p) for m in content.members if (p := place_of(m, base)) is not None and int(p.parent.parent.name) in takes]
            media = [(n, r, m) for n in SHOWN for r in tables[n] if (m := content.media(n, r["id"])) is not None]
            size = sum(content.members[m] for m, _ in files)
            room_for([(self._store.folder, size), (videos_to, sum(content.members[m] for *_, m in media))])
            for k, (member, path) in enumerate(files):
                yield Progress(Stage.ARCHIVE, k, len(files) + len(media))
                unpack(archive, member, path)
            for k, (name, row, member) in enumerate(media, len(files)):
                yield Progress(Stage.ARCHIVE, k, len(files) + len(media))
                target = _free(videos_to / Path(member).name)
                unpack(archive, member, target)
                brought.append(target)
                if name == "takes" and fingerprint(target) != row["fingerprint"]:
                    raise StudioError(f"{member} in this archive is damaged.", "Choose another copy of it.")
                row["path"] = str(target.absolute())
            for row in tables["takes"]:
                if row["path"] not in {str(b.absolute()) for b in brought} and not _same(Path(row["path"]), row["fingerprint"]):
                    # on another machine: it is asked for when the take is opened
                    row["path"] = str((videos_to / Path(row["path"]).name).absolute())
            self._rename(tables, self._take_papers(content.papers, kept))
            new = bring_in(self._store.database, tables, base)
            # they are in: that two were of one playing cannot take them back
            with suppress(StudioError):
                for first, second in _pairs_of(content.papers):
                    if first in new and second in new:
                        self._pairs.set(new[first], new[second])
        except BaseException:
            for take_back in kept:
                take_back()
            for path in brought:
                path.unlink(missing_ok=True)
            raise
        finally:
            shutil.rmtree(base, ignore_errors=True)

    def _take_papers(self, papers: dict[str, str], kept: list[Callable[[], object]]) -> dict[str, str]:
        """Own profiles, exercises, pieces and checks of the archive: what is here under the same name stays. Returns new names of profiles
        by old ones; ``kept`` is given how to take each back."""
        renamed: dict[str, str] = {}
        book = CheckBook(self._store.folder)
        for path, text in sorted(papers.items()):
            try:
                if path.startswith("profiles/"):
                    data = json.loads(text)
                    name = data["name"]
                    if name in self._shelf.all():
                        if self._shelf.data(name) == data:
                            continue
                        renamed[name] = data["name"] = self._shelf.free_name(name)
                    self._shelf.keep(data)
                    kept.append(partial(self._shelf.remove, data["name"]))
                elif path == PAIRS:
                    continue  # joined once the takes have their new ids
                elif path.startswith("notation/"):
                    read_mei(text)
                    before = self._notation.names()
                    name = self._notation.keep(Path(path).stem, text)
                    if name not in before:
                        kept.append(partial(self._notation.remove, name))
                elif path.startswith("checks/"):
                    check = PhoneCheck.from_dict(json.loads(text))
                    if (check.name, check.instrument) not in {(c.name, c.instrument) for c in book.checks}:
                        book.keep(check)
                        kept.append(partial(book.forget, check))
                else:
                    made = read_exercise(text)
                    own = self._exercises.own()
                    if made.name in own:
                        if write_exercise(own[made.name]) == text:
                            continue
                        made = replace(made, name=next(n for k in range(2, 10_000) if (n := f"{made.name} {k}") not in own))
                    self._exercises.save(made)
                    kept.append(partial(self._exercises.remove, made.name))
            except StudioError:
                raise  # the disk
            except (DolcezzaError, *UNREADABLE):
                continue  # one bad paper keeps nobody out
        return renamed

    def _rename(self, tables: dict[str, list[dict[str, Any]]], profiles: dict[str, str]) -> None:
        """Names that are taken here: of students, and of profiles that came under another name."""
        taken = {s.name.casefold() for s in self._store.students()}
        for row in tables["students"]:
            name = row["name"].strip() or "?"
            row["name"] = next(n for n in (name, *(f"{name} {k}" for k in range(2, 10_000))) if n.casefold() not in taken)
            taken.add(row["name"].casefold())
        for table in ("students", "analyses", "dismissals"):
            for row in tables[table]:
                row["profile"] = profiles.get(row["profile"], row["profile"])
        for row in tables["dated"]:
            if row["what"] == "profile":
                row["value"] = profiles.get(row["value"], row["value"])


def _pairs_of(papers: dict[str, str]) -> list[tuple[int, int]]:
    """Which takes are of one playing; none where that cannot be read."""
    try:
        return [(int(first), int(second)) for first, second in json.loads(papers.get(PAIRS, "[]"))]
    except UNREADABLE:
        return []


def _only(tables: dict[str, list[dict[str, Any]]], students: set[int]) -> dict[str, list[dict[str, Any]]]:
    """The rows of some of the students."""
    takes = {t["id"] for t in tables["takes"] if t["student_id"] in students}
    analyses = {a["id"] for a in tables["analyses"] if a["take_id"] in takes}
    belongs = {"student_id": students, "take_id": takes, "analysis_id": analyses}
    out = {n: [r for r in rows if all(r[c] in there for c, there in belongs.items() if c in r)] for n, rows in tables.items()}
    out["students"] = [r for r in tables["students"] if r["id"] in students]
    return out


def _free(path: Path) -> Path:
    """The path, or one beside it that is free."""
    candidates = (path, *(path.with_stem(f"{path.stem}-{k}") for k in range(2, 10_000)))
    return next(p for p in candidates if not p.exists())


def _same(path: Path, mark: str) -> bool:
    """Whether the video is there as it was."""
    try:
        return path.is_file() and fingerprint(path) == mark
    except (DolcezzaError, OSError, ValueError):
        return False
