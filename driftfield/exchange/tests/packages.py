"""Small packages of exchange tables, for tests."""

import csv
import io
import zipfile
from datetime import date, timedelta
from pathlib import Path

import numpy as np

from driftfield.exchange.tables import tables

START = date(2023, 1, 2)


def weekly(term: str, values: list[float] | np.ndarray, start: date = START) -> list[tuple]:
    return [(term, (start + timedelta(weeks=i)).isoformat(), int(v)) for i, v in enumerate(values)]


def table(header: str, *rows: tuple) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header.split(","))
    writer.writerows(rows)
    return out.getvalue()


def write(folder: Path, **files: str | bytes) -> Path:
    """Write each file as NAME.csv."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in files.items():
        raw = content if isinstance(content, bytes) else content.encode()
        (folder / f"{name}.csv").write_bytes(raw)
    return folder


def zipped(folder: Path, to: Path) -> Path:
    with zipfile.ZipFile(to, "w") as archive:
        for file in folder.iterdir():
            archive.write(file, f"package/{file.name}")
    return to


def small_market(weeks: int = 156, seed: int = 0) -> dict[str, str]:
    """Two niches with terms and listings, and one term that is a niche of its own."""
    rng = np.random.default_rng(seed)
    wave = 1 + 0.6 * np.cos(2 * np.pi * (np.arange(300) - 20) / 52)
    terms = {"rhubarb forcer": 200 * wave, "terracotta forcer": 80 * wave, "moon filter": np.full(300, 150.0), "net float": np.full(300, 90.0)}  # fmt: skip
    rows: list[tuple] = []
    for term, expected in terms.items():
        searches = rng.poisson(expected)[:weeks]
        rows += [(*row, row[2] // 2, row[2] // 20) for row in weekly(term, searches)]
    last = (START + timedelta(weeks=150)).isoformat()
    return {
        "markets": table("market_id,name,currency", ("north", "Harrow Quay North", "GBP")),
        "categories": table("category_id,parent_id,name", ("g", "", "Growing"), ("gb", "g", "Bed covers")),
        "niches": table("niche_id,name,category_id,market_id", ("rf", "Rhubarb forcers", "gb", "north"), ("mf", "Moon filters", "", "north")),
        "terms": table("term,niche_id,branded", ("rhubarb forcer", "rf", 0), ("terracotta forcer", "rf", 0), ("moon filter", "mf", 1), ("net float", "", "")),
        "term_weeks": table("term,week,searches,clicks,purchases", *rows),
        "brands": table("id,name", ("b1", "Skepgarth")),
        "listings": table("listing_id,title,brand,price,reviews,attr_colour", ("l1", "Tall forcer, lidded", "b1", 38.5, 212, "red"), ("l2", "Small forcer", "", 12, 4, "")),
        "term_clicks": table("term,week,listing_id,click_share", ("rhubarb forcer", last, "l1", 0.6), ("rhubarb forcer", last, "l2", 0.3)),
        "listing_weeks": table("listing_id,week,price,units,lead_seller_id", ("l1", "2025-01-01", 38.5, 12, "s1"), ("l1", "2025-02-01", 36.0, 9, "s2")),
        "offers": table("seller_id,listing_id,first_seen,last_seen", ("s1", "l1", "2024-03-01", "")),
        "feedback": table("listing_id,kind,theme,tone,mentions", ("l1", "review", "lid cracks, in frost", "complaint", 14)),
    }  # fmt: skip


def supplied_market() -> dict[str, str]:
    """The small market with a supply side: five listings of one niche, two years of months."""
    files = small_market()
    pages = {  # price, reviews, launched, brand, sponsored, units a month
        "l1": (20, 212, "2021-03-01", "b1", 0, 40), "l2": (25, 40, "2022-05-01", "b2", 1, 30),
        "l3": (18, 90, "2023-01-01", "b3", 0, 20), "l4": (22, 12, "2025-03-01", "b2", 0, 35),
        "l5": (30, 8, "2025-06-01", "own", 0, 2),
    }  # fmt: skip
    share = {"l1": 0.4, "l2": 0.2, "l3": 0.15, "l4": 0.1, "l5": 0.05}
    snapshots = [(START + timedelta(weeks=i)).isoformat() for i in (103, 142, 155)]
    months = [f"{2023 + m // 12}-{m % 12 + 1:02}-01" for m in range(12, 36)]
    facts, weeks, clicks = [], [], []
    for page, (price, reviews, launched, brand, sponsored, units) in pages.items():
        facts.append((page, f"Forcer {page}", brand, f"s{page[1]}", "gb", price, 4.2, reviews, launched, 800,
                      300, 200, 100, 50, sponsored, 0.05, "red" if page == "l4" else "grey"))  # fmt: skip
        weeks += [
            (
                page,
                month,
                price * (1 - 0.01 * (i % 3)),
                units,
                reviews - 24 + i,
                2,
                0.9,
                f"s{page[1]}",
            )
            for i, month in enumerate(months)
            if month >= launched
        ]
        clicks += [
            (term, day, page, share[page])
            for day in snapshots
            for term in ("rhubarb forcer", "terracotta forcer")
            if day >= launched
        ]
    files |= {
        "brands": table("id,name,first_seen,own_retail", ("b1", "Skepgarth", "2020-01-01", 0), ("b2", "Marllock", "2022-01-01", 0), ("b3", "Querngarth", "", ""), ("own", "Quayside Own", "2019-01-01", 1)),
        "sellers": table("id,name,first_seen,own_retail", *((f"s{i}", f"Lane {i}", "2021-01-01", 0) for i in range(1, 6))),
        "listings": table("listing_id,title,brand,seller_id,category_id,price,rating,reviews,launched_on,weight_g,length_mm,width_mm,height_mm,quality,sponsored,return_rate,attr_colour", *facts),
        "listing_weeks": table("listing_id,week,price,units,reviews,offers,in_stock,lead_seller_id", *weeks),
        "term_clicks": table("term,week,listing_id,click_share", *clicks),
        "offers": table("seller_id,listing_id,first_seen,last_seen,fulfilment", ("s1", "l1", "2021-03-01", "", "seller"), ("s5", "l2", "2024-03-01", "2025-02-01", ""), ("s2", "l2", "2022-05-01", "", "marketplace")),
    }  # fmt: skip
    return files


def whole_market() -> dict[str, str]:
    """The supplied market with every optional table and every optional column filled."""
    files = supplied_market()
    days = [(START + timedelta(weeks=i)).isoformat() for i in range(156)]
    months = [f"{2023 + m // 12}-{m % 12 + 1:02}-01" for m in range(12, 36)]
    files["markets"] = table(
        "market_id,name,currency,region,country",
        ("north", "Harrow Quay North", "GBP", "north", "GB"),
    )
    files["terms"] += "rhubarb focrer,rf,0\n"
    files["term_weeks"] += "".join(f"rhubarb focrer,{day},4,2,0\n" for day in days)
    counted = files["term_weeks"].splitlines()
    files["term_weeks"] = "\n".join(
        [
            f"{counted[0]},impressions",
            *(f"{row},{500 + i % 90}" for i, row in enumerate(counted[1:])),
            "",
        ]
    )
    files["interest"] = table(
        "term,week,index", *(("rhubarb forcer", day, 50 + i % 50) for i, day in enumerate(days))
    )
    shares = files["term_clicks"].splitlines()
    files["term_clicks"] = "\n".join(
        [f"{shares[0]},purchase_share", *(f"{row},0.1" for row in shares[1:]), ""]
    )
    pages = files["listings"].splitlines()
    files["listings"] = "\n".join(
        [f"{pages[0]},tags", *(f"{row},bell pot {i}" for i, row in enumerate(pages[1:])), ""]
    )
    weeks = files["listing_weeks"].splitlines()
    files["listing_weeks"] = "\n".join(
        [f"{weeks[0]},sales_rank", *(f"{row},{i + 1}" for i, row in enumerate(weeks[1:])), ""]
    )
    files["feedback"] = table(
        "listing_id,kind,theme,tone,mentions,week",
        *(
            (page, kind, theme, tone, 3 + i, day)
            for i, day in enumerate(months)
            for page in ("l1", "l2")
            for kind, theme, tone in (("review", "lid cracks", "complaint"), ("return", "too small", "complaint"), ("review", "well made", "praise"))
        ),
    )  # fmt: skip
    files["voices"] = table(
        "voice_id,kind,text,rating,day,listing_id,niche_id,term,language,helpful",
        *(
            (f"v{i}", ("review", "return", "question", "comment")[i % 4], f"The lid cracked in frost, {i}.",
             1 + i % 5, "2025-03-04", "l1" if i % 3 else "", "" if i % 3 else "rf", "rhubarb forcer",
             "english", i)
            for i in range(40)
        ),
    )  # fmt: skip
    files["own_sales"] = table(
        "niche_id,listing_id,week,units,revenue",
        *(("rf", "", month, 12 + i, 300) for i, month in enumerate(months)),
        *(("", page, month, 4 + i, 90) for page in ("l1", "l2") for i, month in enumerate(months)),
    )
    files["protected_words"] = table(
        "word,match,note", ("terracotta", "exact", "of a register"), ("moon", "contains", "")
    )
    return files


def without(files: dict[str, str], name: str, column: str = "") -> dict[str, str]:
    """A package without a table, or without a column of it."""
    if not column:
        return {other: text for other, text in files.items() if other != name}
    rows = list(csv.reader(io.StringIO(files[name])))
    at = rows[0].index(column)
    left = [tuple(row[:at] + row[at + 1 :]) for row in rows]
    # Where each line fills one of several columns, those that filled this one go with it.
    either = [left[0].index(one) for one in tables()[name].one_of if one in left[0]]
    if column in tables()[name].one_of:
        if not either:
            return without(files, name)
        left = [left[0], *(row for row in left[1:] if any(row[one] for one in either))]
    # Without a column of the key, rows may say the same twice; the first one stays.
    key = [left[0].index(one) for one in tables()[name].key if one in left[0]]
    first = {tuple(row[at] for at in key): row for row in reversed(left[1:])}
    return {**files, name: table(",".join(left[0]), *reversed(first.values()))}


def blanked(files: dict[str, str], name: str, column: str, every: int) -> dict[str, str]:
    """A package in which every so many cells of a column are empty; 1 for all."""
    rows = list(csv.reader(io.StringIO(files[name])))
    at = rows[0].index(column)
    for row in rows[1::every]:
        row[at] = ""
    if column in (one_of := tables()[name].one_of):
        either = [rows[0].index(one) for one in one_of if one in rows[0]]
        rows = [rows[0], *(row for row in rows[1:] if any(row[one] for one in either))]
        if len(rows) == 1:
            return without(files, name)
    return {**files, name: table(",".join(rows[0]), *(tuple(row) for row in rows[1:]))}
