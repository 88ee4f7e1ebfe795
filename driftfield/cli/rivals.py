"""Commands about those who sell already."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import click

from .common import guarded, parse_day, report, write_rows

_FILE = click.Path(path_type=Path, dir_okay=False)
_FOLDER = click.argument("folder", type=click.Path(path_type=Path))
_AS_OF = click.option(
    "--as-of",
    callback=parse_day,
    metavar="DATE",
    help="The day that counts as today. Default: the last complete period in the data.",
)


@click.command(short_help="Show what several sellers in FOLDER carry together.")
@_FOLDER
@click.option(
    "--sellers",
    metavar="IDS",
    default="",
    help="Ids or names of the sellers, with commas between them, or addresses that hold an id.",
)
@click.option(
    "--sellers-from",
    "sellers_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="A text file with such ids, in whatever form; also with --sellers.",
)
@click.option(
    "--at-least",
    "least",
    default=2,
    show_default=True,
    type=click.IntRange(1),
    metavar="K",
    help="How many of the sellers must carry it.",
)
@click.option(
    "--since",
    callback=parse_day,
    metavar="DATE",
    help="Carried on any day from this one to the as-of. Default: carried at the as-of.",
)
@click.option("--ever", is_flag=True, help="Carried at any time.")
@_AS_OF
@click.option(
    "--of",
    "what",
    type=click.Choice(["listings", "dropped", "brands", "categories"]),
    default="listings",
    show_default=True,
    help="Listings they carry; listings each of them dropped; brands or categories that recur beyond chance.",
)
@click.option("--mine", metavar="IDS", default="", help="Ids of sellers that are my own.")
@click.option("--lacking", is_flag=True, help="Only listings that mine do not carry yet.")
@click.option("--out", type=_FILE, help="CSV, XLSX or JSON, by the ending; else JSON lines.")
def carried(
    folder: Path,
    sellers: str,
    sellers_file: Path | None,
    least: int,
    since: date | None,
    ever: bool,
    as_of: date | None,
    what: str,
    mine: str,
    lacking: bool,
    out: Path | None,
) -> None:
    """Show what at least K of some sellers carry, most sellers first, one JSON line each. No database is used.

    What a seller carries is what it has an offer of, and listings that name it as their seller. Brands and
    categories are told where more of the sellers have them than chance explains, given how large they and
    the sellers are; at most 5% of those told are false discoveries. Of one seller, with --at-least 1, it is the
    storefront; with --as-of, as it was on another day.

    \b
    Examples:
      bin/driftfield carried demo/harrow-quay.zip --sellers s201,s202,s203 --at-least 2
      bin/driftfield carried demo/harrow-quay.zip --sellers-from rivals.txt --since 2025-10-01 --out october.csv
      bin/driftfield carried demo/harrow-quay.zip --sellers-from rivals.txt --of brands
    """  # fmt: skip
    from driftfield.core.base import CoreError
    from driftfield.core.sentences import together_sentence
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.storefronts import (
        COLUMNS,
        carried_records,
        chosen_sellers,
        storefronts_of,
    )

    def work() -> None:
        if ever and since is not None:
            raise CoreError("Give --since or --ever, not both.")
        if lacking and not mine:
            raise CoreError("--lacking needs --mine: which sellers are your own.")
        if lacking and what in ("brands", "categories"):
            raise CoreError("--lacking is about listings: leave out --of, or ask --of dropped.")
        text = (
            sellers if sellers_file is None else f"{sellers}\n{sellers_file.read_text('utf-8-sig')}"
        )
        if not text.strip():
            raise CoreError("Name the sellers: --sellers a,b,c or --sellers-from FILE.")
        shops = storefronts_of(read_package(folder), as_of)
        chosen = chosen_sellers(shops, text)
        own = chosen_sellers(shops, mine) if mine else None
        for one in (*chosen.unknown, *(own.unknown if own else ())):
            report(f"Note: “{one}” is no seller here and is left out.")
        found = carried_records(
            shops,
            chosen.ids,
            what,
            least=least,
            since=date.min if ever else since,
            mine=own.ids if own else [],
            lacking=lacking,
        )
        write_rows(f"{what} of {len(chosen.ids)} sellers", COLUMNS[what], found, out)
        begun = date.min if ever else since
        told = together_sentence(len(found), what, least, len(chosen.ids), begun, shops.day)
        report(f"{told}{'' if out is None else f'; written to {out}'}.")

    guarded(work)


@click.command(short_help="Show listings in FOLDER that sleep until their season.")
@_FOLDER
@click.option(
    "--in",
    "month",
    metavar="MONTH",
    help="Strong in this month, as 2026-10: the latest such month that is over. Default: in the best 13 weeks "
    "of the last 65.",
)
@click.option(
    "--at", "feast", metavar="FEAST", help="Strong in the four weeks up to this feast, as Easter."
)
@click.option("--awake", is_flag=True, help="Those that sell for their season alone, now, instead.")
@click.option(
    "--category", metavar="CATEGORY", help="Only in this category, by its id, and below it."
)
@click.option("--brand", metavar="BRAND", help="Only of this brand.")
@click.option(
    "--ids-from",
    "ids_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Only the listings that this text names: ids in whatever form, or addresses that hold them.",
)
@click.option(
    "--lead-days",
    type=click.IntRange(0, 730),
    metavar="DAYS",
    help="Days from ordering to being on sale. Default: as in the settings, 77.",
)
@click.option(
    "--planning-date",
    callback=parse_day,
    metavar="DATE",
    help="The day of ordering. Default: the as-of.",
)
@_AS_OF
@click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
@click.option("--out", type=_FILE, help="CSV, XLSX or JSON, by the ending; else JSON lines.")
def sleepers(
    folder: Path,
    month: str | None,
    feast: str | None,
    awake: bool,
    category: str | None,
    brand: str | None,
    ids_file: Path | None,
    lead_days: int | None,
    planning_date: date | None,
    as_of: date | None,
    pairs: tuple[str, ...],
    out: Path | None,
) -> None:
    """Show listings that sold well in their last season, are quiet now and will be wanted again, as JSON lines.

    Strongest first, with why they are quiet, when their season rises, by when to order, and what to expect. No
    database is used.

    \b
    Examples:
      bin/driftfield sleepers demo/harrow-quay.zip --in 2026-10 --out october.csv
      bin/driftfield sleepers demo/harrow-quay.zip --ids-from supplier.txt --lead-days 60
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.curves import Time
    from driftfield.core.market import check_planning
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.categories import subtree
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.sleepers import (
        COLUMNS,
        Asked,
        chosen_listings,
        find_sleepers,
    )

    def work() -> None:
        if month and feast:
            raise CoreError("Give --in or --at, not both.")
        wanted = Time.of_month(month) if month else None
        lead = [] if lead_days is None else [f"lead_days={lead_days}"]
        settings = DEFAULTS.with_pairs([*pairs, *lead], THRESHOLDS)
        package = read_package(folder)
        markets, notes = assemble(package, as_of)
        if planning_date is not None:
            check_planning(planning_date, max(one.data.timeline.end for one in markets))
        for note in [*package.notes, *notes]:
            report(f"Note: {note}")
        text = None if ids_file is None else ids_file.read_text("utf-8-sig")
        only, unknown = chosen_listings(package, brand, text)
        inside = None if category is None else subtree(package, category)
        for one in unknown:
            report(f"Note: “{one}” is no listing here and is left out.")
        found, when = find_sleepers(
            markets, Asked(awake, wanted, feast, only, inside), settings, planning_date
        )
        write_rows("sleepers", COLUMNS, found, out)
        noun = "listing" if len(found) == 1 else "listings"
        what = "in season now" if awake else f"strong {when} and quiet now"
        written = "" if out is None else f"; written to {out}"
        report(f"{len(found):,} {noun} {what}{written}.")

    guarded(work)


@click.command(short_help="Show who held the lead offers of a niche in FOLDER.")
@_FOLDER
@click.option("--niche", required=True, metavar="NICHE", help="The niche, by its id.")
@click.option(
    "--in",
    "month",
    metavar="MONTH",
    help="In this month, as 2025-10. Default: in the niche's last season, or the last year where it has none.",
)
@_AS_OF
@click.option("--out", type=_FILE, help="CSV, XLSX or JSON, by the ending; else JSON lines.")
def leads(
    folder: Path, niche: str, month: str | None, as_of: date | None, out: Path | None
) -> None:
    """Show who held the lead offers on the goods of a niche, who held most first, one JSON line a seller.

    The goods are the listings that its buyers click, or clicked within a year. bin/driftfield carried shows
    what else these sellers carry. No database is used.

    \b
    Example:
      bin/driftfield leads demo/harrow-quay.zip --niche north-hive-frames --in 2025-10 --out october.csv
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.curves import Time
    from driftfield.exchange.leads import COLUMNS, find_leads
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package

    def work() -> None:
        wanted = Time.of_month(month) if month else None
        markets, _ = assemble(read_package(folder), as_of)
        found = find_leads(markets, niche, wanted, DEFAULTS)
        write_rows(f"lead offers of {niche}", COLUMNS, found.rows, out)
        report(f"{found.sentence}{'' if out is None else f'; written to {out}'}.")

    guarded(work)


@click.command(short_help="Show which of one's own goods in FOLDER to order again.")
@_FOLDER
@click.option("--mine", metavar="IDS", default="", help="Ids or names of sellers that are my own.")
@click.option(
    "--ids-from",
    "ids_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="A text that names listings that were my own, in whatever form; instead of --mine or with it.",
)
@click.option(
    "--rise",
    default=10.0,
    show_default=True,
    type=click.FloatRange(0, 1000, min_open=True),
    metavar="PERCENT",
    help="Change of the price in 13 weeks from which it has risen.",
)
@click.option("--all", "every", is_flag=True, help="Also those of which nothing says so.")
@click.option(
    "--planning-date",
    callback=parse_day,
    metavar="DATE",
    help="The day of ordering. Default: the as-of.",
)
@_AS_OF
@click.option("--out", type=_FILE, help="CSV, XLSX or JSON, by the ending; else JSON lines.")
def replenish(
    folder: Path,
    mine: str,
    ids_file: Path | None,
    rise: float,
    every: bool,
    planning_date: date | None,
    as_of: date | None,
    out: Path | None,
) -> None:
    """Show which of one's own goods, now and before, it may pay to order again, and why, one JSON line each.

    Their price rose while demand holds; their season comes and its order-by date is near; or nobody else offers
    them now. Those with most reasons come first. No database is used.

    \b
    Example:
      bin/driftfield replenish demo/harrow-quay.zip --mine s201 --rise 8 --out again.csv
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import check_planning
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.own_goods import COLUMNS, find_own_goods
    from driftfield.exchange.reader import read_package

    def work() -> None:
        package = read_package(folder)
        markets, _ = assemble(package, as_of)
        if planning_date is not None:
            check_planning(planning_date, max(one.data.timeline.end for one in markets))
        text = "" if ids_file is None else ids_file.read_text("utf-8-sig")
        found, unknown = find_own_goods(
            package, markets, mine, text, rise / 100, DEFAULTS, planning_date, as_of
        )
        for one in unknown:
            report(f"Note: “{one}” is unknown here and is left out.")
        shown = [one for one in found if every or one["reasons"]]
        write_rows("to order again", COLUMNS, shown, out)
        written = "" if out is None else f"; written to {out}"
        many = sum(bool(one["reasons"]) for one in found)
        report(f"{many:,} of {len(found):,} own goods to order again{written}.")

    guarded(work)


@click.command(short_help="Compare estimates from ranks in FOLDER with own sales.")
@_FOLDER
@click.option(
    "--of",
    "what",
    type=click.Choice(["categories", "listings"]),
    default="categories",
    show_default=True,
    help="Each category that own sales tell of, or each listing with own sales.",
)
@click.option(
    "--set",
    "pairs",
    multiple=True,
    metavar="KEY=VALUE",
    help="Change a setting: --set correct_estimates=1 says what is corrected.",
)
@_AS_OF
@click.option("--out", type=_FILE, help="CSV, XLSX or JSON, by the ending; else JSON lines.")
def estimates(
    folder: Path, what: str, pairs: tuple[str, ...], as_of: date | None, out: Path | None
) -> None:
    """Show how far units estimated from sales ranks miss what you sold yourself, one JSON line each.

    The table own_sales says what you sold, with a listing_id. A listing counts where nobody else is known to
    sell it; five of a category, or of the one above it, tell. With the setting correct_estimates=1 estimates
    there are multiplied by what is found, as in bin/driftfield analyse. No database is used.

    \b
    Example:
      bin/driftfield estimates demo/harrow-quay.zip
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.exchange.estimates import COLUMNS, OF_LISTINGS, find_checks
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package

    def work() -> None:
        package = read_package(folder)
        markets, _ = assemble(package, as_of)
        by_listing = what == "listings"
        found = find_checks(package, markets, DEFAULTS.with_pairs(pairs), by_listing=by_listing)
        write_rows("estimates and own sales", OF_LISTINGS if by_listing else COLUMNS, found, out)
        if by_listing:
            counted = sum(one["ratio"] is not None for one in found)
            text = f"{len(found):,} listings with own sales, {counted:,} of them compared with their rank"
        else:
            text = f"{len(found):,} {'category' if len(found) == 1 else 'categories'} told by own sales"
        report(f"{text}{'' if out is None else f'; written to {out}'}.")
        if not found and not by_listing:
            report(
                "It takes five listings with a sales rank, whose own sales are known for nine tenths of the "
                "last year and which nobody else is known to sell."
            )

    guarded(work)


COMMANDS = (carried, estimates, leads, replenish, sleepers)
