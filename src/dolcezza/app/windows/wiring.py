"""Which page's wish is whose work: the signals of the desk put together in one place."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from dolcezza.app.windows.steps import LANDMARKS, PLAN, PRACTISE, STUDENTS

if TYPE_CHECKING:
    from dolcezza.app.windows.main_window import MainWindow


def connect(window: MainWindow) -> None:
    """Join pages, presenters and the window's own ways."""
    window.strip.chosen.connect(window.go_to_step)
    window.students.open_take.connect(window.open_take)
    window.students.video_offered.connect(window.takes.offer_video)
    window.students.delete_take.connect(window.takes.delete_take)
    window.takes.open_take.connect(window.open_take)
    window.takes.taken_in.connect(window.students.reload)
    window.students.edit.connect(window.takes.edit_student)
    window.archives.came.connect(window.students.reload)
    window.days.taken_in.connect(window.students.reload)
    window.days.open_wanted.connect(window.open_take)
    window.students.videos_offered.connect(window.days.offer)
    window.takes.student_changed.connect(window._on_student_changed)
    window.takes.leaving.connect(window._on_leaving)
    window.takes.removed.connect(partial(window.go_to_step, STUDENTS))
    window.students.fault.connect(window.show_fault)
    window.take_view.go_on.connect(partial(window.go_to_step, LANDMARKS))
    window.landmarks.measure.connect(window.measure)
    window.landmarks.undo_changed.connect(window._refresh_undo)
    window.landmarks.landmarks_set.connect(window.corrections.landmarks_set)
    window.strokes.judged.connect(window.correcting.judge)
    window.strokes.measure_again.connect(window.measure)
    window.arm.measure_again.connect(window.measure)
    window.selection.moment_changed.connect(window.pictures.want)
    window.pictures.ready.connect(window.pages.show_picture)
    window.opened.opened.connect(window._on_opened)
    window.opened.undo_changed.connect(window._refresh_undo)
    window.corrections.corrected.connect(window._on_mended)
    window.assigning.judged_again.connect(window._reload_analysis)
    window.notation.assigned.connect(window._reload_analysis)
    window.correcting.changed.connect(window._reload_analysis)
    window.correct.practise.connect(partial(window.go_to_step, PRACTISE))
    window.progress.open_take.connect(window.open_take)
    for presenter in (window.building, window.profiles):
        presenter.changed.connect(window._reload_analysis)
    window.building.profile_wanted.connect(window.show_profile)
    window.students.profile_wanted.connect(window.show_profile)
    window.pages.profile.done.connect(lambda: window.go_to_step(window._before_profile))
    window.assigning.edit_wanted.connect(partial(window.go_to_step, PLAN))
    window.measuring.started.connect(window._on_started)
    window.measuring.measured.connect(window._on_measured)
    window.measuring.landmarks_wrong.connect(partial(window.go_to_step, LANDMARKS))
    window.measuring.one_more.connect(window._on_one_more)
