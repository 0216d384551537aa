"""Write the catalogue of generic parts. Dimensions from memory or common practice; prices invented."""

import csv
from collections.abc import Iterator
from pathlib import Path

FILE = Path(__file__).parent.parent / "src/gravidon/parts/data/catalogue.csv"
COLUMNS = ("id", "kind", "name", "ends", "dash", "angle_deg", "bore_mm", "stack_mm", "takeoff_mm", "min_bend_mm", "od_mm", "temp_c", "pressure_kpa", "material", "price")  # fmt: skip
BORE = {3: 3.18, 4: 5.56, 6: 8.73, 8: 11.11, 10: 14.29, 12: 17.46, 16: 22.23}
OD = {3: 6.5, 4: 11.0, 6: 14.5, 8: 17.0, 10: 20.5, 12: 24.0, 16: 29.5}
BEND = {3: 38, 4: 50, 6: 65, 8: 75, 10: 90, 12: 115, 16: 140}
NPT_BORE = {"1/16": 3.5, "1/8": 5.6, "1/4": 7.5, "3/8": 10.5, "1/2": 14.3, "3/4": 17.5}
METRIC_BORE = {"M10x1.0": 5.0, "M10x1.25": 5.0, "M10x1.5": 5.0, "M12x1.25": 6.0, "M12x1.5": 6.0, "M14x1.5": 7.5, "M16x1.5": 9.5, "M18x1.5": 11.5, "M20x1.5": 13.0, "M22x1.5": 14.5}  # fmt: skip
STACK = {0: 30, 30: 34, 45: 33, 60: 33, 90: 28, 120: 30, 150: 36, 180: 44}
Row = dict[str, object]


def slug(text: str) -> str:
    """Return a text as an id."""
    kept = "".join(c.lower() if c.isalnum() else "-" for c in text.replace("°", ""))
    return "-".join(part for part in kept.split("-") if part)


def row(kind: str, name: str, ends: list[str], **more: object) -> Row:
    """Return one part."""
    return {
        "id": slug(f"{kind} {name}"),
        "kind": kind,
        "name": name,
        "ends": " ".join(e.replace(" ", "_") for e in ends),
        **more,
    }


def hoses() -> Iterator[Row]:
    for d in BORE:
        both = [f"hose|-{d}|female", f"hose|-{d}|female"]
        yield row(
            "hose",
            f"-{d} braided PTFE hose, per metre",
            both,
            dash=d,
            bore_mm=BORE[d],
            od_mm=OD[d],
            min_bend_mm=BEND[d],
            temp_c=230,
            pressure_kpa=14000 - 500 * d,
            material="PTFE in steel braid",
            price=18 + 2.2 * d,
        )
        yield row(
            "hose",
            f"-{d} braided rubber hose, per metre",
            both,
            dash=d,
            bore_mm=BORE[d],
            od_mm=OD[d] + 0.5,
            min_bend_mm=BEND[d] * 1.15,
            temp_c=150,
            pressure_kpa=6900 - 250 * d,
            material="rubber in steel braid",
            price=11 + 1.6 * d,
        )
    for d in (6, 8, 10, 12):
        yield row(
            "hose",
            f"-{d} push-on rubber hose, per metre",
            [f"hose|-{d}|female"] * 2,
            dash=d,
            bore_mm=BORE[d],
            od_mm=OD[d] - 1,
            min_bend_mm=BEND[d] * 1.1,
            temp_c=135,
            pressure_kpa=1700,
            material="rubber",
            price=6 + 0.9 * d,
        )


def hose_ends() -> Iterator[Row]:
    for d in BORE:
        for angle, stack in STACK.items():
            size = 0.75 + 0.045 * d
            word = "straight" if angle == 0 else f"{angle}°"
            yield row(
                "hose end",
                f"-{d} {word} hose end, reusable",
                [f"37 flare|-{d}|female", f"hose|-{d}|male"],
                dash=d,
                angle_deg=angle,
                bore_mm=round(BORE[d] * 0.94, 2),
                stack_mm=round(stack * size, 1),
                takeoff_mm=round((22 + 0.12 * angle) * size, 1),
                temp_c=230,
                pressure_kpa=6900,
                material="aluminium",
                price=round(6 + 0.7 * d + 0.06 * angle, 2),
            )
    for d in (6, 8, 10, 12):
        for angle in (0, 45, 90):
            word = "straight" if angle == 0 else f"{angle}°"
            yield row(
                "hose end",
                f"-{d} {word} push-on hose end",
                [f"37 flare|-{d}|female", f"barb|-{d}|male"],
                dash=d,
                angle_deg=angle,
                bore_mm=round(BORE[d] * 0.85, 2),
                stack_mm=round(STACK[angle] * (0.75 + 0.045 * d), 1),
                takeoff_mm=round(20 + 0.1 * angle, 1),
                temp_c=150,
                pressure_kpa=1700,
                material="aluminium",
                price=round(4 + 0.5 * d, 2),
            )


def adapters() -> Iterator[Row]:
    pipe = {"1/8": (3, 4), "1/4": (4, 6), "3/8": (6, 8, 10), "1/2": (8, 10, 12), "3/4": (12, 16)}
    for size, dashes in pipe.items():
        for d in dashes:
            for angle in (0, 45, 90):
                word = "" if angle == 0 else f" {angle}°"
                yield row(
                    "adapter",
                    f"{size} NPT male to -{d} flare male{word}",
                    [f"NPT|{size}|male", f"37 flare|-{d}|male"],
                    dash=d,
                    angle_deg=angle,
                    bore_mm=round(min(NPT_BORE[size], BORE[d]), 2),
                    stack_mm=24 + d,
                    temp_c=250,
                    pressure_kpa=20000,
                    material="aluminium" if d > 4 else "steel",
                    price=round(4 + 0.5 * d + (5 if angle else 0), 2),
                )
    for kind in ("BSPT", "BSPP"):
        for size, dashes in {
            "1/8": (3, 4),
            "1/4": (4, 6),
            "3/8": (6, 8),
            "1/2": (8, 10),
            "3/4": (12,),
        }.items():
            for d in dashes:
                yield row(
                    "adapter",
                    f"{size} {kind} male to -{d} flare male",
                    [f"{kind}|{size}|male", f"37 flare|-{d}|male"],
                    dash=d,
                    angle_deg=0,
                    bore_mm=round(min(NPT_BORE[size], BORE[d]), 2),
                    stack_mm=24 + d,
                    temp_c=250,
                    pressure_kpa=20000,
                    material="steel",
                    price=round(5 + 0.5 * d, 2),
                )
    metric = {
        "M10x1.0": (3, 4),
        "M10x1.25": (4,),
        "M10x1.5": (4,),
        "M12x1.25": (4,),
        "M12x1.5": (4, 6),
        "M14x1.5": (4, 6),
        "M16x1.5": (6, 8),
        "M18x1.5": (6, 8, 10),
        "M20x1.5": (10,),
        "M22x1.5": (10, 12),
    }
    for size, dashes in metric.items():
        for d in dashes:
            yield row(
                "adapter",
                f"{size} male to -{d} flare male",
                [f"metric|{size}|male", f"37 flare|-{d}|male"],
                dash=d,
                angle_deg=0,
                bore_mm=round(min(METRIC_BORE[size], BORE[d]), 2),
                stack_mm=22 + d,
                temp_c=250,
                pressure_kpa=20000,
                material="steel",
                price=round(5 + 0.5 * d, 2),
            )
    for size in ("M10x1.0", "M12x1.5"):
        yield row(
            "adapter",
            f"{size} taper male to -4 flare male",
            [f"metric taper|{size}|male", "37 flare|-4|male"],
            dash=4,
            angle_deg=0,
            bore_mm=5.0,
            stack_mm=26,
            temp_c=250,
            pressure_kpa=20000,
            material="steel",
            price=7.5,
        )
    for d in (4, 6, 8, 10, 12, 16):
        yield row(
            "adapter",
            f"-{d} O-ring boss male to -{d} flare male",
            [f"O-ring boss|-{d}|male", f"37 flare|-{d}|male"],
            dash=d,
            angle_deg=0,
            bore_mm=BORE[d],
            stack_mm=24 + d,
            temp_c=200,
            pressure_kpa=20000,
            material="aluminium",
            price=round(5 + 0.5 * d, 2),
        )
    for d, e in ((6, 4), (8, 6), (10, 8), (12, 10), (16, 12)):
        yield row(
            "adapter",
            f"-{d} O-ring boss male to -{e} flare male",
            [f"O-ring boss|-{d}|male", f"37 flare|-{e}|male"],
            dash=e,
            angle_deg=0,
            bore_mm=BORE[e],
            stack_mm=26 + e,
            temp_c=200,
            pressure_kpa=20000,
            material="aluminium",
            price=round(6 + 0.5 * d, 2),
        )
        yield row(
            "adapter",
            f"-{d} flare male to -{e} flare male reducer",
            [f"37 flare|-{d}|male", f"37 flare|-{e}|male"],
            dash=e,
            angle_deg=0,
            bore_mm=BORE[e],
            stack_mm=30 + e,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(5 + 0.4 * d, 2),
        )
        yield row(
            "adapter",
            f"-{d} flare female to -{e} flare male reducer",
            [f"37 flare|-{d}|female", f"37 flare|-{e}|male"],
            dash=e,
            angle_deg=0,
            bore_mm=BORE[e],
            stack_mm=24 + e,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(6 + 0.4 * d, 2),
        )
    for d in BORE:
        yield row(
            "adapter",
            f"-{d} flare union, male to male",
            [f"37 flare|-{d}|male"] * 2,
            dash=d,
            angle_deg=0,
            bore_mm=BORE[d],
            stack_mm=28 + d,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(3 + 0.4 * d, 2),
        )
        yield row(
            "adapter",
            f"-{d} flare coupler, female to female",
            [f"37 flare|-{d}|female"] * 2,
            dash=d,
            angle_deg=0,
            bore_mm=BORE[d],
            stack_mm=24 + d,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(5 + 0.5 * d, 2),
        )
    for male, female in (
        ("BSPT|1/8", "NPT|1/8"),
        ("metric|M10x1.0", "NPT|1/8"),
        ("metric|M12x1.5", "NPT|1/8"),
        ("metric|M14x1.5", "NPT|1/8"),
        ("metric|M18x1.5", "NPT|1/4"),
        ("NPT|1/4", "NPT|1/8"),
        ("NPT|3/8", "NPT|1/4"),
        ("NPT|1/2", "NPT|3/8"),
        ("BSPT|1/2", "NPT|1/2"),
        ("NPT|1/8", "BSPT|1/8"),
        ("NPT|1/8", "metric|M10x1.0"),
    ):
        (a, b), (c, d) = male.split("|"), female.split("|")
        names = [x if k == "metric" else f"{x} {k}" for k, x in ((a, b), (c, d))]
        bore = min(NPT_BORE.get(x, METRIC_BORE.get(x, 5.0)) for x in (b, d))
        yield row(
            "adapter",
            f"{names[0]} male to {names[1]} female",
            [f"{male}|male", f"{female}|female"],
            angle_deg=0,
            bore_mm=round(min(bore, 14.0), 2),
            stack_mm=20,
            temp_c=250,
            pressure_kpa=20000,
            material="brass",
            price=6.0,
        )


def tees() -> Iterator[Row]:
    for code, name in (
        ("NPT|1/8", "1/8 NPT"),
        ("BSPT|1/8", "1/8 BSPT"),
        ("metric|M10x1.0", "M10x1.0"),
        ("NPT|1/4", "1/4 NPT"),
    ):
        yield row(
            "tee",
            f"sender tee {name}, -4 flare branch",
            [f"{code}|male", "37 flare|-4|male", f"{code}|female"],
            dash=4,
            angle_deg=90,
            bore_mm=5.0,
            stack_mm=34,
            temp_c=250,
            pressure_kpa=20000,
            material="steel",
            price=14.0,
        )
    for d in (4, 6, 8, 10, 12):
        yield row(
            "tee",
            f"-{d} flare tee, all male",
            [f"37 flare|-{d}|male"] * 3,
            dash=d,
            angle_deg=90,
            bore_mm=BORE[d],
            stack_mm=30 + d,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(9 + 0.8 * d, 2),
        )
        yield row(
            "tee",
            f"-{d} flare tee, female swivel run",
            [f"37 flare|-{d}|female", f"37 flare|-{d}|male", f"37 flare|-{d}|male"],
            dash=d,
            angle_deg=90,
            bore_mm=BORE[d],
            stack_mm=30 + d,
            temp_c=230,
            pressure_kpa=15000,
            material="aluminium",
            price=round(12 + 0.8 * d, 2),
        )


def restrictors() -> Iterator[Row]:
    for hole in (0.8, 0.9, 1.0, 1.2, 1.5, 1.8, 2.0, 2.2, 2.5, 3.0):
        yield row(
            "restrictor",
            f"-4 in-line restrictor, {hole:.1f} mm hole",
            ["37 flare|-4|female", "37 flare|-4|male"],
            dash=4,
            angle_deg=0,
            bore_mm=hole,
            stack_mm=26,
            temp_c=250,
            pressure_kpa=15000,
            material="steel",
            price=16.0,
        )
    for code, name in (("NPT|1/8", "1/8 NPT"), ("metric|M10x1.0", "M10x1.0"), ("metric|M12x1.5", "M12x1.5")):
        for hole in (0.8, 1.0, 1.2, 1.5):
            yield row(
                "restrictor",
                f"{name} male inlet with {hole:.1f} mm hole, -4 flare male",
                [f"{code}|male", "37 flare|-4|male"],
                dash=4,
                angle_deg=0,
                bore_mm=hole,
                stack_mm=28,
                temp_c=250,
                pressure_kpa=15000,
                material="steel",
                price=18.0,
            )


def flanges() -> Iterator[Row]:
    for name, bore, dashes in (
        ("small two-bolt 38 mm", 14.0, (6, 8)),
        ("medium two-bolt 44 mm", 18.0, (8, 10, 12)),
        ("large two-bolt 52 mm", 23.0, (10, 12, 16)),
    ):
        for d in dashes:
            yield row(
                "flange",
                f"drain flange {name} to -{d} flare male",
                [f"flange|{name}|", f"37 flare|-{d}|male"],
                dash=d,
                angle_deg=0,
                bore_mm=round(min(bore, BORE[d]), 2),
                stack_mm=36,
                temp_c=250,
                pressure_kpa=2000,
                material="aluminium",
                price=round(18 + d, 2),
            )
        yield row(
            "flange",
            f"drain flange {name} to -{dashes[0]} barb",
            [f"flange|{name}|", f"barb|-{dashes[0]}|male"],
            dash=dashes[0],
            angle_deg=0,
            bore_mm=round(BORE[dashes[0]] * 0.85, 2),
            stack_mm=40,
            temp_c=250,
            pressure_kpa=2000,
            material="steel",
            price=15.0,
        )
        yield row("gasket", f"drain gasket {name}", [], temp_c=300, material="steel-faced fibre", price=3.0)
    for hole in (5.0, 0.76, 1.0):
        words = "full bore" if hole == 5.0 else f"{hole:g} mm hole"
        yield row(
            "flange",
            f"oil inlet flange two-bolt 24 mm to -4 flare male, {words}",
            ["flange|inlet two-bolt 24 mm|", "37 flare|-4|male"],
            dash=4,
            angle_deg=0,
            bore_mm=hole,
            stack_mm=30,
            temp_c=250,
            pressure_kpa=15000,
            material="steel",
            price=19.0,
        )
    yield row(
        "gasket", "oil inlet gasket two-bolt 24 mm", [], temp_c=300, material="steel-faced fibre", price=2.5
    )


def entries() -> Iterator[Row]:
    for size in ("3/8", "1/2", "3/4"):
        yield row(
            "bung",
            f"weld bung {size} NPT female",
            ["weld|any|", f"NPT|{size}|female"],
            angle_deg=0,
            bore_mm=NPT_BORE[size],
            stack_mm=16,
            temp_c=300,
            material="steel or aluminium, as the pan",
            price=9.0,
        )
    for d in (8, 10, 12, 16):
        yield row(
            "bung",
            f"weld bung -{d} O-ring boss female",
            ["weld|any|", f"O-ring boss|-{d}|female"],
            dash=d,
            angle_deg=0,
            bore_mm=BORE[d],
            stack_mm=16,
            temp_c=300,
            material="steel or aluminium, as the pan",
            price=10.0,
        )
        yield row(
            "bung",
            f"weld bung with -{d} flare male",
            ["weld|any|", f"37 flare|-{d}|male"],
            dash=d,
            angle_deg=0,
            bore_mm=BORE[d],
            stack_mm=30,
            temp_c=300,
            material="steel or aluminium, as the pan",
            price=13.0,
        )
        for angle in (0, 45, 90):
            word = "straight" if angle == 0 else f"{angle}°"
            yield row(
                "bulkhead",
                f"-{d} bulkhead {word}, with nut",
                [f"hole|-{d}|", f"37 flare|-{d}|male"],
                dash=d,
                angle_deg=angle,
                bore_mm=round({8: 9.9, 10: 12.7, 12: 15.7, 16: 20.6}[d], 2),
                stack_mm=34,
                temp_c=230,
                material="aluminium",
                price=round(10 + 0.8 * d + (4 if angle else 0), 2),
            )


def banjos() -> Iterator[Row]:
    for size in ("M10x1.0", "M10x1.25", "M10x1.5", "M12x1.25", "M12x1.5", "M14x1.5"):
        yield row(
            "banjo",
            f"banjo {size} with bolt, -4 flare male",
            [f"banjo|{size}|male", "37 flare|-4|male"],
            dash=4,
            angle_deg=90,
            bore_mm=4.0 if size.startswith("M10") else 5.0,
            stack_mm=18,
            temp_c=250,
            pressure_kpa=15000,
            material="steel",
            price=12.0,
        )


def small() -> Iterator[Row]:
    for size in dict.fromkeys(size.split("x")[0] for size in METRIC_BORE):
        yield row("washer", f"crush washer for {size}", [], temp_c=300, material="copper", price=0.6)
    for size in ("1/8", "1/4", "3/8", "1/2", "3/4"):
        yield row(
            "washer", f"bonded washer for {size} BSPP", [], temp_c=200, material="steel and rubber", price=1.2
        )
    for d in (4, 6, 8, 10, 12, 16):
        yield row(
            "washer", f"O-ring for -{d} boss", [], dash=d, temp_c=200, material="fluoro rubber", price=0.5
        )
        yield row(
            "washer",
            f"sealing washer for -{d} bulkhead",
            [],
            dash=d,
            temp_c=200,
            material="bonded rubber",
            price=2.0,
        )
    for d in (3, 4, 6):
        yield row(
            "screen",
            f"-{d} in-line screen, cleanable",
            [f"37 flare|-{d}|female", f"37 flare|-{d}|male"],
            dash=d,
            angle_deg=0,
            bore_mm=round(BORE[d] * 0.9, 2),
            stack_mm=48,
            temp_c=200,
            pressure_kpa=7000,
            material="steel mesh in aluminium",
            price=28.0,
        )
    for d in (6, 8, 10):
        yield row(
            "valve",
            f"-{d} one-way valve",
            [f"37 flare|-{d}|female", f"37 flare|-{d}|male"],
            dash=d,
            angle_deg=0,
            bore_mm=round(BORE[d] * 0.85, 2),
            stack_mm=52,
            temp_c=150,
            pressure_kpa=2000,
            material="aluminium",
            price=24.0,
        )
    for d in BORE:
        yield row(
            "sleeve",
            f"heat sleeve for -{d} hose, per metre",
            [],
            dash=d,
            od_mm=OD[d] + 6,
            temp_c=500,
            material="glass fibre, coated",
            price=8 + 0.5 * d,
        )
        yield row(
            "clamp",
            f"cushioned clamp for -{d} hose",
            [],
            dash=d,
            temp_c=150,
            material="steel and rubber",
            price=1.8,
        )
        yield row(
            "cap", f"-{d} flare cap", [f"37 flare|-{d}|female"], dash=d, material="aluminium", price=2.5
        )
        yield row("cap", f"-{d} flare plug", [f"37 flare|-{d}|male"], dash=d, material="aluminium", price=2.5)
    for d in (6, 8, 10, 12):
        yield row(
            "clamp", f"hose clamp for -{d} push-on hose", [], dash=d, material="stainless steel", price=1.5
        )
    yield row(
        "sealant", "thread sealant, oil-proof, small tube", [], temp_c=200, material="anaerobic", price=9.0
    )
    yield row("sealant", "thread tape, oil-proof", [], temp_c=200, material="PTFE", price=2.0)


def all_rows() -> list[Row]:
    """Return the whole catalogue."""
    makers = (hoses, hose_ends, adapters, tees, restrictors, flanges, entries, banjos, small)
    return [r for make in makers for r in make()]


if __name__ == "__main__":
    with FILE.open("w", newline="", encoding="utf-8") as file:
        writer = csv.DictWriter(file, COLUMNS, restval="", lineterminator="\n")
        writer.writeheader()
        for part in all_rows():
            writer.writerow({k: f"{v:g}" if isinstance(v, float) else v for k, v in part.items()})
