"""Every built-in make-up at random sizes, reckoned a second time from the drawing: nothing here calls the make-ups' own
rules. The sizes are the same in every run."""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable
from random import Random

from sandscale.core.bars.detailing import built_in_detailing
from sandscale.core.makeups.makeup import built_in, built_in_makeup
from sandscale.core.makeups.run import Line, run

from .test_every_makeup import bars, bobbed, dug, kg, lapped, link, up

TIMES = 15
Case = tuple[list[Line], dict[str, str], dict[str, float]]
SLOPES: dict[str, Callable[[float], float]] = {
    "degrees": lambda slope: math.tan(math.radians(slope)),
    "percent": lambda slope: slope / 100,
    "a ratio, 1 in": lambda slope: 1 / slope,
}


class Draw(Random):
    """Sizes as they are drawn: m to the centimetre, mm to five."""

    def m(self, least: float, most: float) -> float:
        return round(self.uniform(least, most), 2)

    def mm(self, least: int, most: int) -> float:
        return self.randrange(least, most + 1, 5) / 1000

    def nr(self, least: int, most: int) -> int:
        return self.randint(least, most)


def mm(size: float) -> str:
    return f"{size * 1000:g}"


def pad(r: Draw) -> Case:
    n, a, b, h = r.nr(1, 9), r.m(0.8, 4), r.m(0.8, 4), r.m(0.3, 1.2)
    size, apart, leg, blind, beyond = (
        r.choice((12, 16, 20, 25)),
        r.mm(100, 250),
        r.mm(300, 600),
        r.mm(40, 100),
        r.mm(0, 200),
    )
    long, cross = (
        bars(b, 0.05, size, apart) * bobbed(leg, a - 0.1, size),
        bars(a, 0.05, size, apart) * bobbed(leg, b - 0.1, size),
    )
    deep, batter = r.m(0.5, 3), r.m(0, 1)
    bands = dug(a + 2 * beyond + 0.6, b + 2 * beyond + 0.6, deep, batter)
    entries = {
        "bar": f"{size}",
        "spacing": mm(apart),
        "leg": mm(leg),
        "blinding": mm(blind),
        "projection": mm(beyond),
        "dig_depth": f"{deep}",
        "batter": f"{batter}",
    }
    return [Line(times=n, length=a, width=b, height=h)], entries, {
        "concrete": n * a * b * h, "formwork": n * 2 * (a + b) * h, "bars": n * kg(long + cross, size),
        "blinding_concrete": n * (a + 2 * beyond) * (b + 2 * beyond) * blind,
        "wire": n * kg(long + cross, size) / 100,
        **{band: n * value for band, value in bands.items()},
    }  # fmt: skip


def strip(r: Draw) -> Case:
    run_, w, h, tees = r.m(8, 60), r.m(0.4, 1.2), r.m(0.2, 0.6), r.nr(0, 4)
    main, number, cross, apart, leg = (
        r.choice((12, 16, 20)),
        r.nr(3, 8),
        r.choice((10, 12)),
        r.mm(100, 300),
        r.mm(100, 250),
    )
    net = run_ - tees * w / 2
    deep, batter = r.m(0.4, 2.5), r.m(0, 0.6)
    bands = dug(run_ - tees * (w + 0.8) / 2, w + 0.8, deep, batter, trench=True)
    entries = {
        "junctions": f"{tees}",
        "main": f"{main}",
        "main_number": f"{number}",
        "cross": f"{cross}",
        "cross_spacing": mm(apart),
        "leg": mm(leg),
        "dig_depth": f"{deep}",
        "batter": f"{batter}",
    }
    return [Line(length=run_, width=w, height=h)], entries, {
        "concrete": net * w * h, "formwork": (2 * net - tees * w) * h,
        "main_bars": kg(number * lapped(net, main), main),
        "cross_bars": kg(bars(net, 0.05, cross, apart) * bobbed(leg, w - 0.1, cross), cross),
        "blinding_concrete": (run_ - tees * (w + 0.2) / 2) * (w + 0.2) * 0.05, **bands,
    }  # fmt: skip


def beam(r: Draw) -> Case:
    n, span, w, h, slab = r.nr(1, 6), r.m(2, 10), r.m(0.2, 0.6), r.m(0.35, 1.2), r.mm(0, 250)
    entries = {"slab": mm(slab)}
    return [Line(times=n, length=span, width=w, height=h)], entries, {
        "concrete": n * span * w * (h - slab), "soffit": n * span * w,
        "side_formwork": n * span * 2 * (h - slab),
    }  # fmt: skip


def column(r: Draw) -> Case:
    n, a, b, h, carried = r.nr(1, 30), r.m(0.25, 1), r.m(0.25, 1), r.m(2.4, 6), r.mm(0, 600)
    size, number, ties, apart = r.choice((16, 20, 25)), r.nr(4, 12), r.choice((8, 10)), r.mm(100, 250)
    clear = h - carried
    links = math.ceil(round(clear / apart, 6)) + 1
    end = {8: 0.115, 10: 0.120}[ties]
    entries = {
        "carried": mm(carried),
        "bar": f"{size}",
        "bar_number": f"{number}",
        "link": f"{ties}",
        "link_spacing": mm(apart),
    }
    return [Line(times=n, length=a, width=b, height=h)], entries, {
        "concrete": n * a * b * clear, "formwork": n * 2 * (a + b) * clear,
        "bars": n * kg(number * up(h + 40 * size / 1000), size),
        "links": n * kg(links * link(a - 0.05, b - 0.05, ties, end), ties),
    }  # fmt: skip


def round_column(r: Draw) -> Case:
    n, d, h, carried = r.nr(1, 30), r.m(0.3, 1.2), r.m(2.4, 6), r.mm(0, 600)
    entries = {"carried": mm(carried), "bar": "20", "bar_number": "8"}
    return [Line(times=n, width=d, height=h)], entries, {
        "concrete": n * math.pi * d**2 / 4 * (h - carried), "formwork": n * math.pi * d * (h - carried),
        "bars": n * kg(8 * up(h + 0.8), 20),
    }  # fmt: skip


def wall(r: Draw) -> Case:
    run_, h, foot, top = r.m(3, 40), r.m(2, 5), r.mm(200, 500), r.mm(200, 500)
    n, w, t = r.nr(1, 4), r.m(0.5, 1.2), r.m(0.5, 1.9)
    upright, level, apart, beside = r.choice((12, 16)), r.choice((10, 12)), r.mm(100, 250), r.mm(100, 250)
    mean, open_ = (foot + top) / 2, n * w * t
    entries = {
        "thickness": mm(foot),
        "top_thickness": mm(top),
        "upright": f"{upright}",
        "upright_spacing": mm(apart),
        "level": f"{level}",
        "level_spacing": mm(beside),
    }
    return [Line(length=run_, height=h), Line(times=n, length=w, height=t, deduct=True)], entries, {
        "concrete": (run_ * h - open_) * mean, "formwork": 2 * (run_ * h - open_),
        "edge_formwork": n * 2 * (w + t) * mean,
        "upright_bars": 2 * kg(bars(run_, 0.035, upright, apart) * up(h + 40 * upright / 1000), upright),
        "level_bars": 2 * kg(bars(h, 0.035, level, beside) * lapped(run_, level), level),
    }  # fmt: skip


def slab(r: Draw) -> Case:
    a, b, h = r.m(3, 30), r.m(3, 30), r.mm(100, 300)
    hole, other = r.m(0.5, 2), r.m(0.5, 2)
    main, cross, apart, beside = r.choice((10, 12, 16)), r.choice((10, 12)), r.mm(100, 250), r.mm(100, 250)
    long, short, out = max(a, b), min(a, b), hole * other
    entries = {
        "main": f"{main}",
        "cross": f"{cross}",
        "main_spacing": mm(apart),
        "cross_spacing": mm(beside),
        "cover": "35",
    }
    # What a void takes out is its area over the spacing; its bars are of stock length at most, so no lap.
    lines = [Line(length=a, width=b, height=h), Line(length=hole, width=other, height=h, deduct=True)]
    return lines, entries, {
        "concrete": (a * b - out) * h,
        "main_bars": kg(bars(short, 0.035, main, apart) * lapped(long - 0.07, main) - out / apart, main),
        "cross_bars": kg(bars(long, 0.035, cross, beside) * lapped(short - 0.07, cross) - out / beside,
            cross),
        "edge_formwork": 2 * (a + b + hole + other) * h,
    }  # fmt: skip


def suspended(r: Draw) -> Case:
    lines, entries, told = slab(r)
    area = lines[0].length * lines[0].width - lines[1].length * lines[1].width  # type: ignore[operator]
    return lines, entries, {**told, "soffit": area}


def blockwork(r: Draw) -> Case:
    run_, h, n, w, t = r.m(4, 40), r.m(2.2, 4), r.nr(1, 5), r.m(0.6, 1.5), r.m(0.6, 2)
    thick, long, high, joint, sand = (
        r.mm(90, 215),
        r.mm(200, 600),
        r.mm(60, 240),
        r.mm(5, 15),
        r.choice((3, 4, 5, 6)),
    )
    face = run_ * h - n * w * t
    each = 1 / ((long + joint) * (high + joint))
    wet = face * thick * (1 - each * long * high)
    dry = wet * 1.1 * 1.33
    entries = {
        "thickness": mm(thick),
        "unit_length": mm(long),
        "unit_height": mm(high),
        "joint": mm(joint),
        "mix": f"1:{sand}",
    }
    return [Line(length=run_, height=h), Line(times=n, length=w, height=t, deduct=True)], entries, {
        "area": face, "blocks": face * each, "mortar": wet, "cement": dry / (1 + sand) * 1440,
        "sand": dry * sand / (1 + sand),
        "half_units": 0, "corner_units": 0,
    }  # fmt: skip


def cavity(r: Draw) -> Case:
    run_, h, n, w, t = r.m(4, 40), r.m(2.2, 4), r.nr(1, 5), r.m(0.6, 1.5), r.m(0.6, 2)
    face = run_ * h - n * w * t
    return [Line(length=run_, height=h), Line(times=n, length=w, height=t, deduct=True)], {}, {
        "area": face, "bricks": face / (0.225 * 0.075), "wall_ties": face * 2.5, "insulation": face,
        "jamb_ties": n * 2 * math.ceil(round(t * 3.33, 6)),
    }  # fmt: skip


def render(r: Draw) -> Case:
    a, out, thick, uneven, sand = r.m(5, 200), r.m(0, 4), r.mm(10, 40), r.nr(0, 40), r.choice((3, 4, 5, 6))
    dry = (a - out) * thick * (1 + uneven / 100) * 1.3
    entries = {"thickness": mm(thick), "uneven": f"{uneven}", "mix": f"1:{sand}"}
    return [Line(area=a), Line(area=out, deduct=True)], entries, {
        "dry_volume": dry, "cement": dry / (1 + sand) * 1440, "sand": dry * sand / (1 + sand),
    }  # fmt: skip


def screed(r: Draw) -> Case:
    a, b, thick, sand = r.m(2, 20), r.m(2, 20), r.mm(40, 100), r.choice((3, 4, 5, 6))
    dry = a * b * thick * 1.1 * 1.33
    return [Line(length=a, width=b)], {"thickness": mm(thick), "mix": f"1:{sand}"}, {
        "area": a * b, "edge": 2 * (a + b), "cement": dry / (1 + sand) * 1440,
        "sand": dry * sand / (1 + sand),
    }  # fmt: skip


def mix_over(r: Draw) -> Case:
    a, thick, sand, stone, voids, added = (
        r.m(5, 200),
        r.mm(10, 100),
        r.nr(1, 6),
        r.nr(0, 8),
        r.nr(0, 60),
        r.nr(0, 30),
    )
    dry, parts = a * thick * (1 + voids / 100 + added / 100), 1 + sand + stone
    entries = {
        "thickness": mm(thick),
        "sand_part": f"{sand}",
        "stone_part": f"{stone}",
        "dry_factor": f"{1 + voids / 100:g}",
        "added": f"{added}",
    }
    return (
        [Line(area=a)],
        entries,
        {
            "dry": dry,
            "cement": dry / parts * 1440,
            "sand": dry * sand / parts,
            "aggregate": dry * stone / parts,
        },
    )


def mix_volume(r: Draw) -> Case:
    a, b, h, sand, stone = r.m(1, 9), r.m(1, 9), r.m(0.1, 2), r.nr(1, 4), r.nr(1, 8)
    dry, parts = a * b * h * 1.54, 1 + sand + stone
    return [Line(length=a, width=b, height=h)], {"sand_part": f"{sand}", "stone_part": f"{stone}"}, {
        "wet": a * b * h, "cement": dry / parts * 1440, "sand": dry * sand / parts,
        "aggregate": dry * stone / parts,
    }  # fmt: skip


def mix_mass(r: Draw) -> Case:
    a, b, h, cement = r.m(1, 9), r.m(1, 9), r.m(0.1, 2), r.nr(200, 500)
    return [Line(length=a, width=b, height=h)], {"cement_content": f"{cement}"}, {
        "cement": a * b * h * cement, "sand": a * b * h * 0.72, "water": a * b * h * cement / 2,
    }  # fmt: skip


def kerb(r: Draw) -> Case:
    run_, given, slope, wide, deep = (
        r.m(5, 200),
        r.choice(list(SLOPES)),
        r.m(1, 40),
        r.mm(200, 500),
        r.mm(100, 300),
    )
    true = run_ * math.hypot(1, SLOPES[given](slope))
    entries = {"given": given, "slope": f"{slope}", "bed_width": mm(wide), "bed_depth": mm(deep)}
    return (
        [Line(length=run_)],
        entries,
        {"laid": true, "concrete": true * (wide * deep + 0.15**2 / 2), "formwork": true * 2 * deep},
    )


def plain_length(r: Draw) -> Case:
    run_, given, slope = r.m(5, 200), r.choice(list(SLOPES)), r.m(1, 40)
    return (
        [Line(length=run_)],
        {"given": given, "slope": f"{slope}"},
        {"net": run_ * math.hypot(1, SLOPES[given](slope))},
    )


def sloped_area(r: Draw) -> Case:
    a, given, slope = r.m(5, 200), r.choice(list(SLOPES)), r.m(1, 60)
    return (
        [Line(area=a)],
        {"given": given, "slope": f"{slope}"},
        {"area": a * math.hypot(1, SLOPES[given](slope)), "plan": a},
    )


def paved(r: Draw) -> Case:
    a, out = r.m(50, 2000), r.m(0, 20)
    layers = {name: (r.mm(20, 300), r.nr(1800, 2500)) for name in ("surface", "binder", "base", "bed")}
    entries = {f"{name}_thickness": mm(thick) for name, (thick, _) in layers.items()} | {
        f"{name}_density": f"{heavy}" for name, (_, heavy) in layers.items()
    }
    told = {f"{name}_mass": (a - out) * thick * heavy / 1000 for name, (thick, heavy) in layers.items()}
    return (
        [Line(area=a), Line(area=out, deduct=True)],
        entries,
        {**told, "area": a - out, "dig": (a - out) * sum(thick for thick, _ in layers.values())},
    )


def pit(r: Draw) -> Case:
    n, a, b, deep, batter = r.nr(1, 4), r.m(1, 9), r.m(1, 9), r.m(0.5, 6), r.m(0, 1)
    bands = {name: n * value for name, value in dug(a + 0.6, b + 0.6, deep, batter).items()}
    return (
        [Line(times=n, length=a, width=b, height=deep)],
        {"batter": f"{batter}", "working_space": "300"},
        {"dig": sum(bands.values()), **bands},
    )


def trench(r: Draw) -> Case:
    run_, w, h, pipe, bed = r.m(5, 90), r.m(0.8, 2), r.m(1.5, 4), r.mm(100, 500), r.mm(100, 200)
    wider, deep = w + r.m(0, 2), r.m(0, 1)
    dig = w * (h - deep) + (w + wider) / 2 * deep
    entries = {
        "flare_width": f"{wider:.2f}",
        "flare_depth": f"{deep}",
        "pipe": mm(pipe),
        "bed_1": mm(bed),
        "bed_2": mm(pipe),
    }
    surround, tube = w * pipe - math.pi * pipe**2 / 4, math.pi * pipe**2 / 4
    return [Line(length=run_, width=w, height=h)], entries, {
        "dig": run_ * dig, "bed_below": run_ * w * bed, "surround": run_ * surround,
        "backfill": run_ * (dig - w * bed - surround - tube),
    }  # fmt: skip


def along(r: Draw) -> Case:
    n, run_, apart = r.nr(1, 5), r.m(2, 60), r.m(0.5, 2)
    return (
        [Line(times=n, length=run_)],
        {"spacing": f"{apart}"},
        {"items": n * (math.ceil(round(run_ / apart, 6)) + 1), "run": n * run_},
    )


def steel(r: Draw) -> Case:
    n, long, fittings = r.nr(1, 12), r.m(2, 15), r.nr(0, 12)
    mass = n * long * 22.4 / 1000  # the section taken when none is chosen
    return (
        [Line(times=n, length=long)],
        {"fittings": f"{fittings}"},
        {"mass": mass, "length": n * long, "fittings": mass * fittings / 100},
    )


def stair(r: Draw) -> Case:
    n, w, steps, rise, go, waist = (
        r.nr(1, 6),
        r.m(0.9, 2),
        r.nr(4, 16),
        r.mm(150, 190),
        r.mm(250, 320),
        r.mm(120, 200),
    )
    slope = math.hypot(steps * go, steps * rise)
    entries = {
        "steps": f"{steps}",
        "riser": mm(rise),
        "going": mm(go),
        "waist": mm(waist),
        "landing_length": "0",
    }
    return [Line(times=n, width=w)], entries, {
        "concrete": n * w * (slope * waist + steps * rise * go / 2), "soffit": n * w * slope,
        "risers": n * steps * rise * w,
    }  # fmt: skip


def pile(r: Draw) -> Case:
    n, long, d, over, cut = r.nr(1, 20), r.m(4, 20), r.mm(300, 900), r.nr(0, 15), r.mm(0, 800)
    entries = {"diameter": mm(d), "over_break": f"{over}", "cut_off": mm(cut)}
    return [Line(times=n, length=long)], entries, {
        "boring": n * long, "concrete": n * math.pi * d**2 / 4 * (long + cut) * (1 + over / 100),
        "cutting": n,
    }  # fmt: skip


def retaining(r: Draw) -> Case:
    run_, h = r.m(4, 40), r.m(1.5, 4)
    foot, top, base, thick = r.mm(300, 500), r.mm(200, 300), r.mm(1500, 3000), r.mm(300, 600)
    entries = {
        "stem_foot": mm(foot),
        "stem_top": mm(top),
        "base_width": mm(base),
        "base_depth": mm(thick),
    }
    return [Line(length=run_, height=h)], entries, {
        "concrete": run_ * ((foot + top) / 2 * h + base * thick),
        "stem_formwork": run_ * (h + math.hypot(h, foot - top)), "base_formwork": 2 * run_ * thick,
    }  # fmt: skip


def lintel(r: Draw) -> Case:
    n, clear, bearing, thick = r.nr(1, 9), r.m(0.6, 3.5), r.mm(100, 300), r.mm(100, 300)
    deep, number, size = (0.19, 2, 10) if clear < 1.2 else (0.19, 3, 12) if clear < 2.4 else (0.39, 4, 16)
    whole = clear + 2 * bearing
    return [Line(times=n, length=clear)], {"wall": mm(thick), "bearing": mm(bearing)}, {
        "length": n * whole, "concrete": n * whole * thick * deep,
        "bars": n * kg(number * up(whole - 0.05), size),
        "formwork": n * (2 * whole * deep + clear * thick),
    }  # fmt: skip


def stepped(r: Draw) -> Case:
    a, b, h, c, d, k = r.m(1.5, 4), r.m(1.5, 4), r.m(0.3, 0.8), r.m(0.5, 1.4), r.m(0.5, 1.4), r.m(0.2, 0.6)
    entries = {"step_length": f"{c}", "step_width": f"{d}", "step_height": f"{k}", "top_height": "0"}
    return (
        [Line(length=a, width=b, height=h)],
        entries,
        {"concrete": a * b * h + c * d * k, "formwork": 2 * (a + b) * h + 2 * (c + d) * k},
    )


def sloped(r: Draw) -> Case:
    a, b, h, taper, c, d = (
        r.m(1.5, 4),
        r.m(1.5, 4),
        r.m(0.2, 0.6),
        r.m(0.1, 0.6),
        r.m(0.4, 1.4),
        r.m(0.4, 1.4),
    )
    frustum = taper / 6 * (a * b + (a + c) * (b + d) + c * d)
    entries = {"taper": f"{taper}", "top_length": f"{c}", "top_width": f"{d}"}
    return (
        [Line(length=a, width=b, height=h)],
        entries,
        {"concrete": a * b * h + frustum, "formwork": 2 * (a + b) * h},
    )


def cap(r: Draw) -> Case:
    n, a, b, h, piles, d = r.nr(1, 9), r.m(1.2, 4), r.m(1.2, 4), r.m(0.5, 1.5), r.nr(1, 6), r.mm(300, 600)
    heads = piles * math.pi * d**2 / 4 * 0.075
    return (
        [Line(times=n, length=a, width=b, height=h)],
        {"piles": f"{piles}", "pile": mm(d)},
        {"concrete": n * (a * b * h - heads), "formwork": n * 2 * (a + b) * h},
    )


def ground_beam(r: Draw) -> Case:
    run_, w, h, tees, top, bottom = (
        r.m(5, 40),
        r.m(0.3, 0.8),
        r.m(0.4, 1.2),
        r.nr(0, 3),
        r.nr(2, 5),
        r.nr(2, 5),
    )
    net = run_ - tees * w / 2
    entries = {
        "junctions": f"{tees}",
        "top": "16",
        "top_number": f"{top}",
        "bottom": "20",
        "bottom_number": f"{bottom}",
    }
    return [Line(length=run_, width=w, height=h)], entries, {
        "concrete": net * w * h, "formwork": (2 * net - tees * w) * h,
        "top_bars": kg(top * lapped(net, 16), 16), "bottom_bars": kg(bottom * lapped(net, 20), 20),
    }  # fmt: skip


def road_cleaning(r: Draw) -> Case:
    own, hired, heavy, day = r.nr(0, 900), r.nr(0, 400), r.nr(0, 60), r.nr(7, 10)
    trucks, fewer, long, short = r.nr(4, 8), r.nr(1, 4), r.nr(2, 4), r.nr(1, 2)
    others = max(own + hired - heavy * trucks, 0) / fewer
    days = math.ceil(round(heavy / day, 9)), math.ceil(round(others / day, 9))
    entries = {
        "own_hours": f"{own}", "hired_hours": f"{hired}", "heavy_hours": f"{heavy}", "heavy_trucks": f"{trucks}",
        "other_trucks": f"{fewer}", "day": f"{day}", "heavy_a_day": f"{long}", "other_a_day": f"{short}",
    }  # fmt: skip
    return [Line()], entries, {"cleaning": days[0] * long + days[1] * short}


def plain(makeup: str) -> Callable[[Draw], Case]:
    def case(r: Draw) -> Case:
        n, a, b, h = r.nr(1, 9), r.m(1, 9), r.m(1, 9), r.m(1, 9)
        value = {"plain-number": n, "plain-area": n * a * b, "plain-volume": n * a * b * h}[makeup]
        return [Line(times=n, length=a, width=b, height=h)], {}, {"net": value}

    return case


CASES: dict[str, Callable[[Draw], Case]] = {
    "pad-footing": pad, "pad-footing-stepped": stepped, "pad-footing-sloped": sloped, "pile-cap": cap,
    "pile": pile, "strip-footing": strip,
    "ground-beam": ground_beam, "beam": beam, "column": column, "column-round": round_column, "wall": wall,
    "retaining-wall": retaining,
    "ground-slab": slab, "suspended-slab": suspended, "stair": stair, "lintel": lintel,
    "blockwork": blockwork, "brickwork-cavity": cavity,
    "render": render, "screed": screed, "mix-by-mass": mix_mass, "mix-by-volume": mix_volume,
    "mix-over-an-area": mix_over, "kerb": kerb,
    "paved-area": paved, "area-on-a-slope": sloped_area, "pit": pit, "pipe-trench": trench,
    "items-along-a-run": along, "steel-sections": steel,
    "plain-length": plain_length, "road-cleaning": road_cleaning,
    **{key: plain(key) for key in ("plain-number", "plain-area", "plain-volume")},
}  # fmt: skip


class AtRandom(unittest.TestCase):
    def test_every_make_up(self) -> None:
        self.assertEqual(set(CASES), set(built_in()))
        for key, case in CASES.items():
            r = Draw(key)
            for _ in range(TIMES):
                lines, entries, told = case(r)
                found = {q.output.key: q.net for q in run(built_in()[key], entries, lines).quantities}
                for output, value in told.items():
                    with self.subTest(key, output=output, lines=lines, entries=entries):
                        self.assertAlmostEqual(found[output], value, delta=1e-9 * max(1.0, abs(value)))

    def test_what_stands_in_the_bending_schedule_is_what_is_billed(self) -> None:
        """Every bar of every make-up under every set of rules: by output, the schedule's mass is the quantity's."""
        for key, case in CASES.items():
            for rules in built_in_detailing():
                makeup = built_in_makeup(key, rules)
                r = Draw(f"{key} {rules}")
                for _ in range(3):
                    lines, entries, _ = case(r)
                    asked = {
                        name: entry
                        for name, entry in entries.items()
                        if not makeup.inputs[name].table and makeup.inputs[name].rule != "stock"
                    }
                    if "leg" in asked:
                        asked["leg"] = r.choice((asked["leg"], "0"))
                    if "stagger" in makeup.inputs:
                        asked |= {"stagger": r.choice(("0", "310")), "other_way": r.choice(
                            ("of their own", "like those along the length"))}  # fmt: skip
                    result = run(makeup, asked, lines)
                    masses: dict[str, float] = {}
                    for line in result.bars:
                        masses[line.bar.output] = masses.get(line.bar.output, 0.0) + line.mass
                    steel = [
                        q for q in result.quantities
                        if q.family == "bars" and q.output.unit == "kg" and q.output.item
                    ]  # fmt: skip
                    for q in steel:
                        with self.subTest(key, rules=rules, output=q.output.key, lines=lines, entries=asked):
                            mass = masses.get(q.output.key, 0.0)
                            self.assertAlmostEqual(mass, q.net, delta=1e-6 * max(1.0, abs(q.net)))
