"""Which line of the pictures is the hair of the bow, and where it ends: bright hair as it was found at first, or by a second look hair
beside its stick, a dark line beside what was followed, the whole bow, or hair that is hardly seen."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from dolcezza.core.base.errors import TrackingError
from dolcezza.core.base.job import Work
from dolcezza.core.base.message import Message
from dolcezza.core.bowing.whole_bow import ends_of_band, px_mm_along
from dolcezza.core.camera.poses import Poses
from dolcezza.core.pipeline.context import Context
from dolcezza.core.pipeline.frame_pass import LOST_SHARE, FramePass
from dolcezza.core.pipeline.manual import frogs_by_hand, lines_between_ends, with_lines_by_hand
from dolcezza.core.pipeline.stick_pass import BY_STICK, SAME_MM, BesideStick, Hair, look_beside_stick
from dolcezza.core.pipeline.whole_bow_pass import WHOLE_BOW, look_for_dark_hair, look_for_whole_bow
from dolcezza.core.tracking.bow_ends import HEAD_SHARE
from dolcezza.core.tracking.bow_line import Candidate
from dolcezza.core.tracking.bow_path import FAINT, FAINTLY, LEAST_STANDING_OUT, BowLines, choose, is_hair, stands_out
from dolcezza.core.tracking.stickers import use_stickers

DARK_HAIR = Message("note.dark hair")
FAINT_HAIR = Message("note.faint hair")
HARDLY = 0.1
"""Confidence of a line that is not of hair."""
RATHER_FAINT = 0.3
"""A bright line that stands out so much, and that nothing speaks against, is followed; a dark band might be the stick alone."""
SURELY = 0.6
"""A bright line that stands out so much, and that nothing speaks against, is the hair; of others the stick is asked."""
STICK_END_SD = 0.02
"""How well the hair's end is known from where the stick is seen to end (one sd, share of the hair): dark wood is lost before dark cloth."""
Told = tuple[BowLines, list[Message]]


def bow_lines(context: Context, seen: FramePass, poses: Poses) -> Work[Told]:
    """The bow's line and ends in every frame, and what is to be said about them. What the teacher set by hand wins. Raises TrackingError
    where no bow was found."""
    seen = with_lines_by_hand(context, seen)
    chosen = choose(seen.candidates, length_px=context.length_px)
    hair, plain = is_hair(chosen), _plain(context, chosen)
    seldom = float(np.mean([not c for c in seen.candidates])) > LOST_SHARE
    if hair and plain >= SURELY and not seldom:
        return _of_bright_hair(context, seen, chosen)
    beside = yield from look_beside_stick(context, seen, chosen)
    if beside is not None and (seldom or not (hair and plain >= LEAST_STANDING_OUT and _the_same(beside))):
        told = _by_stick(context, beside, seen, poses)
        if told is not None:
            return told
    if seldom:
        raise TrackingError(
            "No bow was found crossing the strings.",
            "Check that the landmarks sit on the bridge and the fingerboard's end, and that the whole bow is in the picture.",
        )
    if hair and plain >= LEAST_STANDING_OUT:
        return _of_bright_hair(context, seen, chosen)
    return (yield from _of_dark_hair(context, seen, chosen, poses))


def _plain(context: Context, chosen: list[Candidate | None]) -> float:
    return stands_out(chosen, length_px=context.length_px, scale_px=context.scale_px)


def _the_same(beside: BesideStick) -> bool:
    """Whether what was followed first is the bright hair beside the stick."""
    return beside.seen is Hair.BRIGHT and beside.off_mm <= SAME_MM


def _of_bright_hair(context: Context, seen: FramePass, chosen: list[Candidate | None]) -> Told:
    lines = lines_between_ends(context, seen, chosen)
    first = [c if c is not None and found and c is found[0] else None for c, found in zip(chosen, seen.candidates, strict=True)]
    lines, stickers = use_stickers(lines, first, seen.colours, scale_px=context.scale_px)
    notes = [Message("note.stickers", {"ends": tuple(Message(f"end.{s.end}") for s in stickers)})] if stickers else []
    return frogs_by_hand(context, lines, seen), notes


def _by_stick(context: Context, beside: BesideStick, seen: FramePass, poses: Poses) -> Told | None:
    """Lines of hair that was found by its stick; None where it hardly stands out."""
    again, chosen, plain = _again(context, beside.lines)
    if plain < FAINT:
        return None
    if beside.seen is Hair.BRIGHT:
        lines = lines_between_ends(context, again, chosen)
        return frogs_by_hand(context, lines, seen), [] if plain >= LEAST_STANDING_OUT else [FAINT_HAIR]
    lines = ends_of_band(context.model, lines_between_ends(context, again, chosen, dark_heads=False), poses)
    if beside.seen is Hair.BEHIND:
        # a stick ends with the head's nose, beyond its hair
        hair_px = context.spec.hair_length * px_mm_along(context.model, poses, len(lines.head))
        lines = replace(
            lines, head=lines.head - HEAD_SHARE * hair_px, head_sd=np.hypot(lines.head_sd, STICK_END_SD * hair_px / context.scale_px),
            confidence=np.minimum(lines.confidence, FAINTLY),
        )  # fmt: skip
    return frogs_by_hand(context, lines, seen), [BY_STICK if beside.seen is Hair.BEHIND else WHOLE_BOW]


def _of_dark_hair(context: Context, seen: FramePass, chosen: list[Candidate | None], poses: Poses) -> Work[Told]:
    """Hair that is not seen as a bright line that stands out, and without a stick that does."""
    hair, plain = is_hair(chosen), _plain(context, chosen)
    again, whole = seen, chosen
    stands = 0.0
    if not hair:
        again = yield from look_for_dark_hair(context, seen, chosen)
        again, whole, stands = _again(context, again)
    if stands < LEAST_STANDING_OUT and not (hair and plain >= RATHER_FAINT):
        again = yield from look_for_whole_bow(context, seen)
        again, whole, stands = _again(context, again)
    if stands < LEAST_STANDING_OUT:
        lines = lines_between_ends(context, seen, chosen)
        if hair and plain >= FAINT:
            return frogs_by_hand(context, lines, seen), [FAINT_HAIR]
        # what was followed besides is something else, and none of it is believed
        return replace(lines, confidence=np.minimum(lines.confidence, HARDLY)), [DARK_HAIR]
    lines = ends_of_band(context.model, lines_between_ends(context, again, whole, dark_heads=False), poses)
    return frogs_by_hand(context, lines, seen), [WHOLE_BOW]


def _again(context: Context, again: FramePass) -> tuple[FramePass, list[Candidate | None], float]:
    """A second look with what was set by hand, the lines chosen, and how plainly they are seen."""
    again = with_lines_by_hand(context, again, spread=False)
    chosen = choose(again.candidates, length_px=context.length_px)
    return again, chosen, _plain(context, chosen)
