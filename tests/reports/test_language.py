"""Every message has words in every language; numbers, dates and plurals are written the way the language does."""

from __future__ import annotations

import json
import re
import string
from datetime import date
from pathlib import Path

import pytest

from dolcezza.core.base.message import Message, said
from dolcezza.core.base.units import QUANTITIES
from dolcezza.core.findings.catalogue import CATALOGUE, Group, found, on_strokes
from dolcezza.core.practice.drills import corrections, corrections_for, drills
from dolcezza.core.tension.signs import HAND_SIGNS, REFERENCES
from dolcezza.core.tone.signs import Start, Weight
from dolcezza.reports.language import LANGUAGES, capital, language
from dolcezza.reports.practice import correction_in, dose, drill_in

SOURCE = Path(__file__).parent.parent.parent / "src" / "dolcezza"


def templates(code: str) -> dict[str, list[str]]:
    data = json.loads((SOURCE / "reports" / "words" / f"{code}.json").read_text(encoding="utf-8"))
    return {k: list(v.values()) if isinstance(v, dict) else [v] for k, v in data.items()}


@pytest.mark.parametrize("code", LANGUAGES)
@pytest.mark.parametrize("kind", CATALOGUE)
def test_every_kind_of_finding_is_whole(kind, code):
    """The catalogue's own check: sentences, causes with a correction each, what speaks against it, what to film, its group."""
    entry, words = CATALOGUE[kind], language(code)
    for key in (*entry.messages, *(f"cause.{c}" for c in entry.causes), f"group.{entry.group}"):
        assert words.knows(key), f"{code}: no words for {key}"
    for key in ([f"against.{entry.against}"] if entry.against else []) + ([f"film.{entry.film}"] if entry.film else []):
        assert words.knows(key), f"{code}: no words for {key}"
    for cause in entry.causes:
        assert len(corrections_for([cause])) == 1, f"no correction for {cause}"
    assert entry.limit and entry.group in Group


def test_every_limit_of_the_catalogue_is_where_it_says():
    """A limit is a field of the profile, or a named constant of another room."""
    from importlib import import_module

    from dolcezza.core.findings.choices import choices
    from dolcezza.core.findings.profiles import PROFILES

    for kind, entry in CATALOGUE.items():
        place, _, key = entry.limit.removesuffix("]").partition("[")
        room, name = place.rsplit(".", 1) if "." in place else (place, "")
        if room == "profile":
            for profile in PROFILES.values():
                table = getattr(profile, name)
                assert not key or key in (choices() if name == "chosen" else table), f"{kind}: {profile.name} has no {entry.limit}"
        elif entry.limit == "hold.figures":
            continue
        else:
            assert hasattr(import_module(f"dolcezza.core.{'findings.' if room.startswith('rules') else ''}{room}"), name), entry.limit


def test_a_kind_that_is_not_listed_is_a_mistake_and_no_silent_fallback():
    with pytest.raises(KeyError):
        found("crooked elbow", Message("swing"), value=1.0, sd=0.1, limit=0.5, unit="deg", sure=True)
    with pytest.raises(ValueError, match="not in the catalogue"):
        found("crooked", Message("swing"), value=1.0, sd=0.1, limit=0.5, unit="deg", sure=True)
    with pytest.raises(ValueError, match="not in the catalogue"):
        found("crooked", Message("crooked.tip"), value=1.0, sd=0.1, limit=0.5, unit="deg", sure=True, cause="caution")


def test_all_languages_say_the_same_things_with_the_same_numbers():
    """Message by message the same ids, and in each the same values: a number that one language drops is a fault."""
    english = templates("en")
    for code in LANGUAGES[1:]:
        other = templates(code)
        assert set(other) == set(english)
        for key, texts in english.items():
            if key.startswith("days."):
                continue
            own = [{name for _, name, _, _ in string.Formatter().parse(t) if name} for t in (*texts, *other[key])]
            assert all(names == own[0] for names in own), key


def test_every_message_of_the_code_has_words():
    """Ids that are written out in the code; those that are put together are checked by their tables below."""
    known = set(templates("en")) | {"as said", "practice", "correction", ""}
    written = set()
    for path in SOURCE.rglob("*.py"):
        text = path.read_text(encoding="utf-8")
        written |= {(m, path.name) for m in re.findall(r'Message\(\s*"([^"{}]+)"', text)}
        written |= {(m, path.name) for m in re.findall(r'\.word\(\s*"([^"{}]+)"', text)}
    for path in (SOURCE / "reports" / "templates").iterdir():
        written |= {(m, path.name) for m in re.findall(r"""say\(["\']([^"\']+)["\']\)""", path.read_text(encoding="utf-8"))}
    assert len(written) > 40
    assert sorted(w for w in written if w[0] not in known) == []


@pytest.mark.parametrize("code", LANGUAGES)
def test_words_of_the_tables_are_whole(code):
    from dolcezza.core.arm.staircase import StairShape
    from dolcezza.core.assignment.use import FIGURES
    from dolcezza.core.camera.place import MOVES
    from dolcezza.core.practice.arm_course import SIGN_NAMES, STEADY_NOTES
    from dolcezza.core.practice.helped import ANSWERS, OF_KIND, PLACES, SETTINGS
    from dolcezza.core.practice.progress import STEADY_FIGURES, USE_FIGURES
    from dolcezza.core.tension.signs import Amount
    from dolcezza.services.courses import JOINT_COURSES

    keys = [f"sign.{s}" for s in (*REFERENCES, *HAND_SIGNS)] + [f"move.{m}" for m in MOVES] + [f"use.{f}" for f in FIGURES]
    keys += (
        [f"amount.{a}" for a in Amount] + [f"stairs.{s}.word" for s in StairShape] + [f"tone of a stroke.{w}" for w in (*Weight, *Start)]
    )
    keys += [f"course.{name}" for names in OF_KIND.values() for name in names]
    keys += [f"course.{name}" for name in (SETTINGS, PLACES, ANSWERS, STEADY_NOTES, *SIGN_NAMES.values(), *JOINT_COURSES.values())]
    keys += [f"course.{name}" for _, name, *_ in USE_FIGURES] + [f"course.{name}" for name, *_ in STEADY_FIGURES]
    assert [k for k in keys if not language(code).knows(k)] == []


def test_plurals_and_decimals():
    """German has one and other like English, a decimal comma, days with a full stop (Unicode locale data, through Babel)."""
    en, de = language("en"), language("de")
    one, many = on_strokes(1, 4, "down-bows"), on_strokes(3, 4, "down-bows")
    assert (en.sentence(one), en.sentence(many)) == ("on 1 down-bow of 4 strokes", "on 3 down-bows of 4 strokes")
    assert (de.sentence(one), de.sentence(many)) == ("bei 1 Abstrich von 4 Strichen", "bei 3 Abstrichen von 4 Strichen")
    assert en.show("bow_angle", -2.54, 0.61) == "−2.5 ± 0.6°" and de.show("bow_angle", -2.54, 0.61) == "−2,5 ± 0,6°"
    day = date(2026, 11, 5)
    assert (en.day(day), de.day(day), de.day(day, "%d %b")) == ("5 November 2026", "5. November 2026", "5. Nov.")
    wobble = Message("wobble", {"db": 2.25, "count": many})
    assert "2,2 dB" in de.sentence(wobble) and "2.2 dB" in en.sentence(wobble)
    assert de.number(float("nan")) == "–" and de.number(-0.04, 1) == "0,0"


@pytest.mark.parametrize("code", LANGUAGES)
def test_plural_and_decimal_sign_are_those_of_the_locale_data(code):
    """Against Babel, which has Unicode's locale data (CLDR): a language here has the forms one and other, and its decimal sign."""
    from babel import Locale
    from babel.numbers import get_decimal_symbol

    rule, words = Locale(code).plural_form, language(code)
    for n in (0, 1, 2, 5, 11, 21, 100):
        assert words.sentence(on_strokes(n, 30, "down-bows")) == words.sentence(
            on_strokes(1 if rule(n) == "one" else 2, 30, "down-bows")
        ).replace("1" if rule(n) == "one" else "2", str(n), 1)
    assert words.number(1.5, 1) == f"1{get_decimal_symbol(code)}5"


def test_what_somebody_has_said_stays_as_it_is():
    assert language("de").sentence(said("It looks {0} odd.")) == "It looks {0} odd."


@pytest.mark.parametrize("key", drills())
def test_every_drill_is_whole_in_german(key):
    own, german = drills()[key], drill_in(drills()[key], language("de"))
    for name in ("name", "place", "unit", "watch", "move_on", "stop"):
        assert (getattr(german, name) and getattr(german, name) != getattr(own, name)) or name in ("unit", "name"), name
    assert set(german.how) == set(own.how) and all(german.how[r] != own.how[r] for r in own.how)
    assert (german.minutes, german.count, german.hard) == (own.minutes, own.count, own.hard)
    assert dose(german, language("de")).endswith("am Tag")


def test_every_correction_is_whole_in_german():
    for own in corrections().values():
        german = correction_in(own, language("de"))
        assert german.says != own.says and german.feel != own.feel and german.drills == own.drills


def test_every_quantity_has_a_unit():
    assert all(q.unit for q in QUANTITIES.values())


def test_every_drill_has_a_drawing_of_its_own_that_can_be_read():
    """Well-formed SVG inside its frame, no two the same, nothing fetched from elsewhere."""
    from xml.etree import ElementTree

    from dolcezza.reports.drill_pictures import PICTURES, drill_address, drill_svg

    assert set(PICTURES) == set(drills())
    pages = {key: drill_svg(key) for key in PICTURES}
    assert len(set(pages.values())) == len(pages)
    for key, svg in pages.items():
        root = ElementTree.fromstring(svg)
        assert root.tag.endswith("svg") and len(list(root)) >= 3, key
        assert "http" not in svg.replace("http://www.w3.org/2000/svg", ""), key
        for line in root.iter("{http://www.w3.org/2000/svg}line"):
            assert all(-1 <= float(line.get(a)) <= 222 for a in ("x1", "x2")) and all(
                0 <= float(line.get(a)) <= 85 for a in ("y1", "y2")
            ), key
    assert drill_address("D1").startswith("data:image/svg+xml;base64,")


def test_a_capital_changes_the_first_letter_alone():
    """A German noun in the middle of a sentence keeps its own."""
    assert capital("etwa ein Bleistift") == "Etwa ein Bleistift" and capital("") == ""
