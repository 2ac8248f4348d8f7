"""The one reader of figures that people type: units are understood, nothing is guessed.

``read("length", "10 ft")`` gives metres, ``read("resistance", "4k7")`` ohms. A figure without a
unit is in the unit that the field shows. Where a text can mean two things the reader asks.

References: SI brochure, 9th ed., § 5.4 (decimal marks, spaces between groups of three); IEC 60062
(``2k2``, ``4R7``).
"""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Callable

from zombrel.job.problem import Problem
from zombrel.job.typed.kinds import WANTED, Wanted, units
from zombrel.units import gauge

_FIGURE = r"[-+]?(?:\d[\d.,’ ]*\d|\d|[.,]\d+)(?:[eE][-+]?\d+)?"
_SPACED = r"[-+]?\d{1,3}(?: \d{3})+(?:[.,]\d+)?"
_GROUPED = r"[-+]?\d{1,3}(?:[’]\d{3})+(?:[.,]\d+)?"
_THREE = r"([-+]?[1-9]\d{0,2})([.,])(\d{3})"
_FEET = r"(?i)(.+?)(?:ft|feet|foot|')\s*(\d.*?)(?:in|inch|inches|\"|'')?$"
_VULGAR = r"(?:(\d+)[ -])?(\d+)/(\d+)\s*(\D.*)"
_CODED = r"(?i)(\d+)([rkmω])(\d+)\s*(?:ω|ohms?)?$"
_VOLT_CODED = r"(?i)(\d+)v(\d+)$"
_SHARE = r"(.+?)\s*[:/]\s*(.+)"
_PER = r"(?i)(?:pulses?|p|imp|impulses?|counts?)?\s*(?:per|/)\s*(.+)|ppk(m)|(km|mi|mile)-?1"
_AWG = r"(?i)(?:awg\s*#?\s*(.+)|(.+?)\s*awg)$"


def read(what: str, text: str, unit: str = "") -> float:
    """The figure that ``text`` means, in the unit of its kind.

    Args:
        what: a kind of figure, a key of ``WANTED``.
        text: as typed: ``10 ft``, ``2k2``, ``4000 per mile``.
        unit: what a figure without a unit is in, written as one may type it; the kind's own else.

    Returns:
        The value [``WANTED[what].unit``: m, km/h, rpm, kg, l, V, ohm, A, kPa, °C, 1/km, 1, N·m,
        mm², Hz, s].

    Raises:
        Problem: nothing, no figure, another kind's unit, one that cannot be, or one that can mean
            two things; the sentence is the question.
    """
    wanted = WANTED[what]
    plain = _plain(text)
    if what not in ("length", "short"):  # there it stands for feet
        plain = plain.replace("'", "’")
    if not plain:
        raise Problem(f"No {wanted.name} is given: write one such as {wanted.example}.")
    value = _SPECIAL.get(what, _with_unit)(what, plain, unit)
    return _possible(wanted, value, text)


def words_for(what: str) -> str:
    """The unit of what ``read`` gives back, as it is printed."""
    return WANTED[what].shown or WANTED[what].unit


def _plain(text: str) -> str:
    """``text`` with one kind of minus, space, prime, apostrophe and square."""
    kept = unicodedata.normalize("NFKC", text.replace("º", "°"))
    for several, one in (("\u2212\u2013", "-"), ("\u2032`´", "'"), ("\u2019", "’"), ("×", "x")):
        for mark in several:
            kept = kept.replace(mark, one)
    return " ".join(kept.replace("\u2033", '"').replace("\u2044", "/").split())


def _possible(wanted: Wanted, value: float, text: str) -> float:
    if not math.isfinite(value) or value > wanted.most:
        raise Problem(f"“{_short(text)}” is more than any {wanted.name} here.")
    if value < wanted.least or (value == 0 and not wanted.zero):
        least = f"{wanted.least:g} {wanted.shown}".strip()
        why = f"is below {least}" if wanted.least < 0 or value < 0 else "is nothing"
        raise Problem(f"“{_short(text)}” {why}, and no {wanted.name} is: {wanted.example}.")
    return value


def figure(text: str, wanted: Wanted = WANTED["number"]) -> float:
    """A bare figure with either decimal mark.

    Returns:
        The number [as typed].

    Raises:
        Problem: no figure, or ``1,900``, which may be 1.9 or 1900.
    """
    plain = text.strip()
    three = re.fullmatch(_THREE, plain)
    if three is not None:
        whole, mark, rest = three[1], three[2], three[3]
        low, high = float(f"{whole}.{rest}"), float(f"{whole}{rest}")
        if mark == "," or abs(low) < wanted.doubt_below:
            raise Problem(
                f"“{plain}” can be {low:g} or {high:.0f}: which? "
                f"Write {whole}.{rest.rstrip('0') or '0'} or {whole}{rest}.",
                "unclear",
            )
        return low
    if re.fullmatch(_SPACED, plain) or re.fullmatch(_GROUPED, plain):
        plain = re.sub("[ ’]", "", plain)
    if re.fullmatch(_FIGURE, plain) and not re.search("[ ’]", plain):
        plain = _one_mark(plain)
        try:
            return float(plain)
        except ValueError:
            pass
    raise Problem(f"“{_short(text)}” is not a number: write it such as {wanted.example}.")


def _one_mark(text: str) -> str:
    """Decimal point only; marks between groups of three go where nothing else can be meant."""
    marks = [c for c in text if c in ".,"]
    if len(marks) <= 1:
        return text.replace(",", ".")
    last = marks[-1]
    decimal = last if marks.count(last) == 1 else ""
    whole, _, rest = text.rpartition(decimal) if decimal else (text, "", "")
    group = marks[0]
    shape = rf"[-+]?\d{{1,3}}(?:{re.escape(group)}\d{{3}})+"
    if group == decimal or re.fullmatch(shape, whole) is None:
        return "?"  # no number: float() refuses it
    return whole.replace(group, "") + (f".{rest}" if decimal else "")


def _with_unit(what: str, text: str, unit: str) -> float:
    wanted = WANTED[what]
    match = re.match(_FIGURE, text)
    if match is None:
        raise Problem(
            f"“{_short(text)}” is not {_a(wanted.name)}: write it such as {wanted.example}."
        )
    value, rest = figure(match[0], wanted), text[match.end() :].strip()
    if wanted.thousands and rest[:1] == "k" and rest[1:].strip().lower() not in ("hz", "m"):
        value, rest = value * 1000, rest[1:].strip()
    return _converted(what, value, rest or unit, text)


def _converted(what: str, value: float, rest: str, text: str) -> float:
    wanted = WANTED[what]
    if not rest or rest in (wanted.shown, wanted.unit):
        return value
    written = rest.replace(" ", "")
    _ask_about(what, written, text)
    unit = wanted.spelt.get(written) or wanted.spelt.get(written.lower())
    if unit is None:
        raise Problem(_misfit(what, written, text))
    if not unit:
        return value
    return float(units().Quantity(value, unit).to(wanted.unit).magnitude)


def _ask_about(what: str, written: str, text: str) -> None:
    """Ask where a unit is written in a way that means two things."""
    small = written.lower()
    doubts = {
        ("pressure", "psia"): "gauge or absolute is the field's to say: write psi",
        ("pressure", "psig"): "gauge or absolute is the field's to say: write psi",
        ("area", "ga"): "which gauge? Write AWG 18, or mm²",
        ("area", "gauge"): "which gauge? Write AWG 18, or mm²",
        ("area", "swg"): "write the section in mm², or AWG",
        ("rate", "ppm"): "per mile or per minute? Write 4000 per mile",
        ("rpm", "hz"): "of what? Write the engine speed in rpm",
    }
    if (what, small) in doubts:
        raise Problem(f"“{_short(text)}”: {doubts[what, small]}.")


def _misfit(what: str, written: str, text: str) -> str:
    wanted = WANTED[what]
    small = written.lower()
    others = [_a(w.name) for w in WANTED.values() if written in w.spelt or small in w.spelt]
    is_ = f"is {others[0]}" if others else f"has a unit that is not known (“{_short(written)}”)"
    return f"“{_short(text)}” {is_}; {_a(wanted.name)} is wanted, such as {wanted.example}."


def _a(name: str) -> str:
    return f"{'an' if name[0] in 'aeiou' else 'a'} {name}"


def _length(what: str, text: str, unit: str) -> float:
    feet = re.fullmatch(_FEET, text)
    if feet is not None and re.fullmatch(_FIGURE, feet[1].strip()):
        inches = feet[2].strip()
        return read(what, f"{feet[1].strip()} ft") + _length(what, f"{inches} in", "")
    vulgar = re.fullmatch(_VULGAR, text)
    if vulgar is not None and int(vulgar[3]):
        value = int(vulgar[1] or 0) + int(vulgar[2]) / int(vulgar[3])
        return _converted(what, value, vulgar[4], text)
    return _with_unit(what, text, unit)


def _resistance(what: str, text: str, unit: str) -> float:
    coded = re.fullmatch(_CODED, text)
    factor = {"r": 1.0, "ω": 1.0, "k": 1e3}
    if coded is not None:
        mark = coded[2]
        size = 1e6 if mark == "M" else factor.get(mark.lower())
        if size is None:
            raise Problem(_milli_or_mega(text, f"{coded[1]}.{coded[3]}"))
        return float(f"{coded[1]}.{coded[3]}") * size
    match = re.match(_FIGURE, text)
    rest = text[match.end() :].strip() if match is not None else ""
    big = re.fullmatch(r"([mM])\s*(ω|Ω|ohms?|r|R)?", rest)
    if match is not None and big is not None:
        value = figure(match[0], WANTED[what])
        if big[1] == "M":
            return value * 1e6
        if not big[2]:
            raise Problem(_milli_or_mega(text, match[0]))
        return value * 1e-3
    return _with_unit(what, text, unit)


def _milli_or_mega(text: str, figure: str) -> str:
    return f"“{_short(text)}” can be {figure} mΩ or {figure} MΩ: which? Write the whole unit."


def _voltage(what: str, text: str, unit: str) -> float:
    coded = re.fullmatch(_VOLT_CODED, text)
    return float(f"{coded[1]}.{coded[2]}") if coded else _with_unit(what, text, unit)


def _rate(what: str, text: str, unit: str) -> float:
    match = re.match(_FIGURE, text)
    rest = text[match.end() :].strip() if match is not None else ""
    if match is None or not rest:
        return _with_unit(what, text, unit)
    value = figure(match[0], WANTED[what])
    if rest[:1] == "k" and rest[:2] != "km":
        value, rest = value * 1000, rest[1:].strip()
    rest = re.sub(r"^(?:pulses?|p|imp|impulses?|counts?)$", "", rest, flags=re.I)
    per = re.fullmatch(_PER, rest)
    if rest and per is None:
        _ask_about(what, rest, text)
        raise Problem(
            f"“{_short(text)}”: pulses per what? Write it such as {WANTED[what].example}."
        )
    return _converted(what, value, per[1] if per else unit, text)


def _ratio(what: str, text: str, unit: str) -> float:
    wanted = WANTED[what]
    share = re.fullmatch(_SHARE, text)
    if share is None:
        return _with_unit(what, text.removesuffix("x").strip(), "")
    a, b = (figure(part, wanted) for part in share.groups())
    if b == 0:
        raise Problem(f"“{_short(text)}” divides by nothing: write it such as {wanted.example}.")
    if a == 1 and b != 1:
        raise Problem(
            f"“{_short(text)}” can be {b:g} or {a / b:.4g}: which? Write {b:g}:1, or {a / b:.4g}."
        )
    return a / b


def _area(what: str, text: str, unit: str) -> float:
    awg = re.fullmatch(_AWG, text)
    if awg is None and unit.lower() == "awg" and re.fullmatch(r"\d+(/0)?", text):
        awg = re.fullmatch(_AWG, f"{text} awg")
    if awg is None:
        return _with_unit(what, text, "" if unit.lower() == "awg" else unit)
    try:
        return gauge.area(gauge.number_of((awg[1] or awg[2]).strip()))
    except ValueError:
        raise Problem(f"“{_short(text)}” is not a gauge from 4/0 to 40: write AWG 18.") from None


_SPECIAL: dict[str, Callable[[str, str, str], float]] = {
    "length": _length,
    "short": _length,
    "far": _length,
    "resistance": _resistance,
    "voltage": _voltage,
    "rate": _rate,
    "ratio": _ratio,
    "area": _area,
}
"""Kinds with ways of writing of their own."""


SHORT = 40


def _short(text: str) -> str:
    line = " ".join(text.split())
    return line if len(line) <= SHORT else f"{line[: SHORT - 1]}…"


def read_list(what: str, text: str, unit: str = "") -> tuple[float, ...]:
    """Several figures with any separator between them: ``3.42 2.05``, ``3,42; 2,05``, ``3.4/2.1``.

    A comma with a space after it parts figures; a comma between digits is a decimal mark unless a
    point is too, or every part would be the same length of digits apart.

    Returns:
        The values, as many as were given [``WANTED[what].unit``].

    Raises:
        Problem: one of them cannot be read, or commas could be either.
    """
    return tuple([read(what, part, unit) for part in parts_of(text)])


def parts_of(text: str) -> list[str]:
    """The pieces of a list of figures.

    Raises:
        Problem: commas that may be decimal marks or separators.
    """
    plain = _plain(text)
    for mark in (";", "/", "|"):
        if mark in plain:
            return [p.strip() for p in plain.split(mark) if p.strip()]
    pieces = [p for p in re.split(r",\s+|\s+", plain) if p]
    commas = [p for p in pieces if "," in p]
    if not commas:
        return pieces
    if all(p.count(",") == 1 for p in commas) and "." not in plain and len(pieces) > 1:
        return pieces
    if "." in plain:
        return [q for p in pieces for q in p.split(",") if q]
    raise Problem(
        f"“{_short(text)}”: are the commas decimal marks or between the figures? "
        "Put semicolons between them."
    )
