"""Commands about what to order and when."""

from __future__ import annotations

from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import click

from .common import guarded, parse_day, report, set_up, write_rows

_AS_OF = click.option(
    "--as-of",
    callback=parse_day,
    metavar="DATE",
    help="The day that counts as today. Default: the last complete period in the data.",
)
_PAIRS = click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
_FOLDER = click.argument("folder", type=click.Path(path_type=Path))


@click.command(short_help="Write when to order for the seasons in FOLDER, as a calendar or a list.")
@_FOLDER
@click.option(
    "--of",
    "kinds",
    type=click.Choice(["niches", "listings"]),
    default="niches",
    show_default=True,
    help="Whose seasons.",
)
@click.option(
    "--sieve",
    "conditions",
    multiple=True,
    metavar="TEXT",
    help="Only what passes this condition, as in --sieve 'headroom > 60'; may be repeated: all must hold.",
)
@click.option(
    "--planning-date",
    callback=parse_day,
    metavar="DATE",
    help="The day of ordering, from which on things are listed. Default: the as-of.",
)
@click.option(
    "--lead-days",
    type=click.IntRange(0, 730),
    metavar="DAYS",
    help="Days from ordering to being on sale. Default: as in the settings, 77.",
)
@_AS_OF
@_PAIRS
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="ICS (a calendar, RFC 5545), CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def almanac(
    folder: Path,
    kinds: str,
    conditions: tuple[str, ...],
    planning_date: date | None,
    lead_days: int | None,
    as_of: date | None,
    pairs: tuple[str, ...],
    out: Path | None,
) -> None:
    """Write what is to be done for every season of the fifteen months from the planning date's on, by day.

    Until when to order for the full season, until when for half of it, when it starts to rise, peaks and winds
    down. As a calendar its entries keep their UIDs when it is made anew, and a week before each deadline there
    is a reminder. No database is used.

    \b
    Examples:
      bin/driftfield almanac demo/harrow-quay.zip --out almanac.ics
      bin/driftfield almanac demo/harrow-quay.zip --sieve 'searches > 20000' --lead-days 60 --out almanac.csv
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.market import (
        KINDS_BY_PLURAL,
        LISTING,
        Window,
        check_planning,
        run_almanac,
        run_listings,
        run_market,
    )
    from driftfield.core.sieve import sift
    from driftfield.core.signals import SIGNALS, THRESHOLDS
    from driftfield.exchange.almanac import COLUMNS, Entry, calendar_file, happening_records
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.sieved import FileColumns, read_sieve
    from driftfield.exchange.sleepers import without_listings

    kind = KINDS_BY_PLURAL[kinds]

    def work() -> None:
        lead = [] if lead_days is None else [f"lead_days={lead_days}"]
        settings = DEFAULTS.with_pairs([*pairs, *lead], THRESHOLDS)
        sieve, searched = read_sieve(conditions, kind)
        for words in searched:
            report(f"Note: “{words}” is no condition; names and search terms are searched for it.")
        package = read_package(folder, record_years=int(settings.record_years))
        markets, notes = assemble(package, as_of)
        for note in [*package.notes, *notes]:
            report(f"Note: {note}")
        if not markets:
            raise CoreError("There are no curves to read. Give a term_weeks table.")
        ends = max(one.data.timeline.end for one in markets)
        planning = planning_date or ends
        check_planning(planning, ends)
        window = Window.from_month_of(planning)
        entries = []
        known = False
        for market in markets:
            niches = run_market(market.data, settings, rules=SIGNALS, planning=planning)
            done = niches
            if kind == LISTING:
                listings = run_listings(niches, market.listing_ids, planning=planning)
                if listings is None:
                    continue
                done = listings
            known = True
            passes = sift(sieve, FileColumns(kind, done, market, package)).passes
            rows = run_almanac(niches, done, int(settings.lead_days), planning, window)
            identity = market.identity(done)
            names = identity["name" if "name" in kind.fields else kind.subject]
            entries += [
                Entry(market.market_id, kind, str(identity[kind.subject][at]), str(names[at]), rows[at])
                for at in passes.nonzero()[0].tolist()
            ]  # fmt: skip
        if not known:
            raise CoreError(without_listings(markets))
        records = happening_records(entries, planning, window.last)
        if out is not None and out.suffix.lower() == ".ics":
            out.write_bytes(
                calendar_file("Almanac", entries, planning, window.last, datetime.now(UTC))
            )
        else:
            write_rows("almanac", COLUMNS, records, out)
        seasonal = sum(bool(entry.row.seasons) for entry in entries)
        written = "" if out is None else f"; written to {out}"
        report(
            f"{kind.many(len(entries))}, {seasonal:,} of them with seasons: {len(records):,} entries from "
            f"{planning} to {window.last}{written}."
        )

    guarded(work)


@click.command(short_help="Plan an order for a niche in FOLDER: how many, by when, and the money.")
@_FOLDER
@click.option("--niche", required=True, metavar="NICHE", help="The niche, by its id.")
@click.option(
    "--inputs",
    "inputs_file",
    required=True,
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Supplier, transport, selling and what is wanted, as JSON; schemas/plan.schema.json describes it.",
)
@_AS_OF
@_PAIRS
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="JSON, or XLSX of the first plan, by the ending; default is JSON on standard output.",
)
def plan(
    folder: Path,
    niche: str,
    inputs_file: Path,
    as_of: date | None,
    pairs: tuple[str, ...],
    out: Path | None,
) -> None:
    """Plan an order: how many units, by when, what is left of each, and the cash week by week.

    What the niche will sell × the share that newcomers reached, or that of a listing to be matched; the
    quantity that earns most or meets a service level; payments and payouts over 10,000 draws. The file may hold
    alternatives, which are planned as well. No database is used.

    \b
    Example:
      bin/driftfield plan demo/harrow-quay.zip --niche north-varroa-boards --inputs demo/plan.json
    """  # fmt: skip
    import json

    from driftfield.core.base import DEFAULTS
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.plan_file import read_document
    from driftfield.exchange.plan_record import plan_record
    from driftfield.exchange.plan_sheet import write_plan
    from driftfield.exchange.planned_market import planned_market

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        documents = read_document(inputs_file)
        market = planned_market(folder, [niche], settings, as_of, report)
        plans = []
        for document in documents:
            read, known = market.read(niche, document)
            made = plan_record(read, known, market.currency, market.as_of)
            plans.append({**made, "came_of_it": market.came_of(niche, read.listing, made)})
        made = {
            "market_id": market.market_id, "niche_id": niche, "name": market.name_of(niche),
            "as_of": market.as_of.isoformat(), "plans": plans,
        }  # fmt: skip
        text = json.dumps(made, ensure_ascii=False, indent=1, allow_nan=False)
        if out is None:
            click.echo(text)
        elif out.suffix.lower() == ".xlsx":
            out.write_bytes(write_plan("xlsx", market.name_of(niche), plans[0], documents[0]))
        else:
            out.write_text(f"{text}\n", "utf-8")
        for one in plans:
            report(f"{one['name']}: {one['sentence']}")
            for warning in one["warnings"]:
                report(f"  {warning}")

    guarded(work)


@click.command(
    short_help="Put several plans of FOLDER on one cash path, and propose which to order."
)
@_FOLDER
@click.option(
    "--inputs",
    "inputs_file",
    required=True,
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Cash at hand and the plans, as JSON; schemas/plans.schema.json describes it.",
)
@_AS_OF
@_PAIRS
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="JSON, or a list of the plans as CSV or XLSX, by the ending; default is JSON on standard output.",
)
def plans(
    folder: Path, inputs_file: Path, as_of: date | None, pairs: tuple[str, ...], out: Path | None
) -> None:
    """Put plans of orders for niches of one market on one cash path and one year of expected units.

    Proposes which of them to place with the cash at hand, says why not the others, which months stay quiet and
    which niches' seasons would fill them. No database is used.

    \b
    Example:
      bin/driftfield plans demo/harrow-quay.zip --inputs demo/plans.json --out result.json
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.planned_market import planned_market
    from driftfield.exchange.plans_file import read_several
    from driftfield.exchange.plans_record import OneOfSeveral, one_of_several, several_record

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        wanted = read_several(inputs_file)
        market = planned_market(
            folder, [one.niche for one in wanted.plans], settings, as_of, report
        )
        found = []
        for at, one in enumerate(wanted.plans):
            key, name = str(at + 1), market.name_of(one.niche)
            try:
                read, known = market.read(one.niche, one.document)
                found.append(
                    one_of_several(
                        key, one.niche, name, one.placed, read, known, market.currency, market.as_of
                    )
                )
            except CoreError as error:
                called = str(one.document.get("name") or "Plan")
                found.append(
                    OneOfSeveral(key, one.niche, name, called, one.placed, None, None, str(error))
                )
        made = several_record(
            found, wanted.cash, market.as_of, market.arrival, market.currency,
            most_loss=wanted.most_loss, pool=market.pool(wanted.fees),
        )  # fmt: skip
        _write_several(made, out)

    guarded(work)


def _write_several(made: dict[str, Any], out: Path | None) -> None:
    """Several plans as JSON or as a list, and in words beside it."""
    import json

    from driftfield.exchange.plans_record import LIST_COLUMNS, plan_rows

    if out is not None and out.suffix.lower() in (".csv", ".xlsx"):
        write_rows("plans", LIST_COLUMNS, plan_rows(made), out)
    else:
        text = json.dumps(made, ensure_ascii=False, indent=1, allow_nan=False)
        if out is None:
            click.echo(text)
        else:
            out.write_text(f"{text}\n", "utf-8")
    for sentence in made["sentences"]:
        report(sentence)
    for row in made["plans"]:
        said = row["reason"] or row["problem"] or ("placed" if row["placed"] else "proposed")
        report(f"  {row['niche']}, {row['name']}: {said}")
        if row.get("came_of_it"):
            report(f"    {row['came_of_it']}")


@click.command(short_help="Show, keep and write out the plans of MARKET.")
@click.argument("market")
@click.option(
    "--keep",
    "inputs_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="Keep the plans of this file and its cash at hand; schemas/plans.schema.json describes it.",
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="JSON, or a list of the plans as CSV or XLSX, by the ending; default is JSON on standard output.",
)
def orders(market: str, inputs_file: Path | None, out: Path | None) -> None:
    """Show all plans that are kept in a loaded market on one cash path, and what is proposed.

    A plan that is called as another one of its niche changes that one; each change can be undone on its page.

    \b
    Examples:
      bin/driftfield orders north --keep demo/plans.json --out orders.xlsx
      bin/driftfield orders north --out orders.json
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.desk.actions import keep_several
    from driftfield.desk.orders import market_orders
    from driftfield.exchange.plans_file import read_several
    from driftfield.market.models import Market

    def work() -> None:
        known = Market.objects.filter(market_id=market, run__isnull=False)
        one = known.select_related("run").first()
        if one is None:
            raise CoreError(f"There is no analysed market “{market}”.")
        if inputs_file is not None:
            kept = keep_several(one, read_several(inputs_file))
            report(f"Kept: {len(kept)} plans.")
        _write_several(market_orders(one), out)

    guarded(work)


COMMANDS = (almanac, plan, plans, orders)
