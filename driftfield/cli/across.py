"""Commands of several markets: matches, exchange rates, and markets side by side."""

from __future__ import annotations

import json
import re
from dataclasses import asdict
from datetime import date
from pathlib import Path

import click

from .common import guarded, guarded_reading, parse_day, report, set_up

_KINDS = click.Choice(["niches", "terms", "categories"])
_FILE = click.Path(path_type=Path, dir_okay=False)


@click.command(short_help="Show what several markets have in common, side by side.")
@click.argument(
    "folders", nargs=-1, required=True, type=click.Path(path_type=Path), metavar="FOLDER …"
)
@click.option(
    "--of", "kinds", type=_KINDS, default="niches", show_default=True, help="What is compared."
)
@click.option(
    "--matches",
    "matches_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="What is the same where ids differ: a table with of, market_id, id, other_market_id, other_id, same.",
)
@click.option(
    "--rates",
    "rates_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="What money is worth: a table with currency, into, rate, day.",
)
@click.option(
    "--into", metavar="CODE", help="Currency of amounts. Default: that of the first market."
)
@click.option(
    "--propose",
    "proposed",
    type=_FILE,
    help="Also write what may be the same to this CSV file, for --matches; fill its column same.",
)
@click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
@click.option(
    "--language", default="english", show_default=True, help="Of names, for what is proposed."
)
@click.option("--out", type=_FILE, help="File to write JSON lines to; default is standard output.")
def across(
    folders: tuple[Path, ...],
    kinds: str,
    matches_file: Path | None,
    rates_file: Path | None,
    into: str | None,
    proposed: Path | None,
    pairs: tuple[str, ...],
    language: str,
    out: Path | None,
) -> None:
    """Lay what several markets have in common side by side, one JSON line each. No database is used.

    The markets are those of all FOLDERs. What has the same id is the same; of anything else the table of
    matches says so. A line has the figures in each market, amounts in one currency where a rate is given,
    how the seasons lie against one another, which market moves first without them, and where competition
    is lower.

    \b
    Examples:
      bin/driftfield across demo/harrow-quay.zip --propose matches.csv
      bin/driftfield across demo/harrow-quay.zip --matches matches.csv --rates rates.csv
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.economics import rate_between
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.core.sentences import across_record
    from driftfield.exchange.across import (
        laid_across,
        markets_of,
        matches_in,
        proposals,
    )
    from driftfield.exchange.own_tables import read_matches, read_rates, write_matches
    from driftfield.exchange.reader import read_package

    kind = KINDS_BY_PLURAL[kinds]

    def work() -> int:
        settings = DEFAULTS.with_pairs(pairs)
        given = [] if matches_file is None else read_matches(matches_file)
        rates = [] if rates_file is None else read_rates(rates_file)
        if into is not None and not re.fullmatch("[A-Za-z]{3}", into):
            raise CoreError(
                f"“{into}” is no currency: --into takes a code of three letters, as EUR."
            )
        markets = []
        for folder in folders:
            package = read_package(folder, record_years=int(settings.record_years))
            markets += markets_of(package, kind, settings)
        ids = [one.market_id for one in markets]
        if again := {one for one in ids if ids.count(one) > 1}:
            raise CoreError(
                f"Two folders hold a market “{min(again)}”. Give each a market_id of its own in markets.csv."
            )
        if len(markets) < 2:
            raise CoreError(
                f"There is one market with {kind.plural} at most: {', '.join(ids) or 'none'}. Two are needed."
            )
        matches = matches_in(kind, given, markets)
        if proposed is not None:
            many = write_matches(proposals(kind, markets, matches, language), proposed)
            report(
                f"{many:,} possible {'match' if many == 1 else 'matches'} written to {proposed}."
            )
        shown = (into or markets[0].market.currency).upper()
        for one in dict.fromkeys(one.market.currency for one in markets):
            if one and shown and rate_between(one, shown, rates).rate is None:
                report(
                    f"Note: no exchange rate from {one} to {shown}; amounts in {one} are not converted."
                )
        laid = laid_across(kind, markets, matches, rates, shown, settings)
        # All of it before any is written: what goes wrong leaves no half a file.
        lines = [json.dumps(across_record(one), ensure_ascii=False, default=str) for one in laid]
        with click.open_file("-" if out is None else str(out), "w", encoding="utf-8") as file:
            file.writelines(f"{line}\n" for line in lines)
        return len(lines)

    count = guarded(work)
    report(
        f"{kind.many(count)} in two markets or more{'' if out is None else f', written to {out}'}."
    )
    if not count:
        report(
            "No id is in two of them, and no match is confirmed: --propose writes possible matches to a file, "
            "--matches reads it once its column same is filled."
        )


@click.group(short_help="Match the niches, terms or categories of two loaded markets.")
def matches() -> None:
    """Confirm or reject matches of two loaded markets whose ids differ.

    Later imports keep these decisions.
    """


@matches.command("propose", short_help="Write possible matches to a file.")
@click.argument("market")
@click.argument("other")
@click.option(
    "--of", "kinds", type=_KINDS, default="niches", show_default=True, help="What is matched."
)
@click.option("--out", type=_FILE, required=True, help="CSV file to write; fill its column same.")
def propose(market: str, other: str, kinds: str, out: Path) -> None:
    """Write possible matches of MARKET and OTHER to a file. Fill its column same, then import it.

    \b
    Example:
      bin/driftfield matches propose north south --out matches.csv
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.desk.matches import analysed_markets, proposed_pairs
    from driftfield.exchange.own_tables import match_row, write_matches
    from driftfield.readings.columns import columns_of

    kind = KINDS_BY_PLURAL[kinds]

    def work() -> int:
        markets = {one.market_id: one for one in analysed_markets()}
        for each in (market, other):
            if each not in markets:
                known = ", ".join(markets) or "none"
                raise CoreError(f"There is no analysed market “{each}”. Known: {known}.")
        if market == other:
            raise CoreError("Name two markets.")
        one, two = markets[market], markets[other]
        first, second = columns_of(one.run, kind), columns_of(two.run, kind)
        return write_matches(
            (
                match_row(
                    kind,
                    (market, first.ids[found.first]),
                    (other, second.ids[found.second]),
                    (first.names[found.first], second.names[found.second]),
                    found.why,
                )
                for found in proposed_pairs(kind, one, two)
            ),
            out,
        )

    count = guarded_reading(work)
    report(f"{count:,} possible {'match' if count == 1 else 'matches'} written to {out}.")


@matches.command("import", short_help="Import decisions on matches.")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False, exists=True))
def import_(file: Path) -> None:
    """Import the decisions in FILE: of, market_id, id, other_market_id, other_id, and same: 1 confirms, 0
    rejects, and an empty cell skips the line."""
    set_up()
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.desk.actions import MatchDecision, match
    from driftfield.desk.write_queue import writing
    from driftfield.exchange.own_tables import read_matches

    def work() -> int:
        rows = read_matches(file)
        with writing():
            for row in rows:
                decision = MatchDecision(
                    row["market_id"], row["id"], row["other_market_id"], row["other_id"],
                    row["same"] == "1",
                )  # fmt: skip
                match(KINDS_BY_PLURAL[row["of"]], [decision])
        return len(rows)

    count = guarded(work)
    report(f"{count:,} {'match' if count == 1 else 'matches'} imported.")


@matches.command("list", short_help="List the decisions on matches, as JSON lines.")
def list_() -> None:
    """List the decisions that hold, one JSON line each, in the columns of the file that import reads."""
    set_up()
    from driftfield.core.market import KINDS_BY_KEY
    from driftfield.desk.models import Match

    def work() -> None:
        for one in Match.objects.filter(current=True).order_by("pk"):
            line = {
                "of": KINDS_BY_KEY[one.kind].plural, "market_id": one.market_id, "id": one.subject,
                "other_market_id": one.other_market_id, "other_id": one.other_subject,
                "same": int(one.same), "match_id": one.pk,
            }  # fmt: skip
            click.echo(json.dumps(line, ensure_ascii=False))

    guarded(work)


@matches.command("undo", short_help="Undo a decision on a match.")
@click.argument("match_id", type=int)
def undo(match_id: int) -> None:
    """Undo the decision MATCH_ID, as list shows it; the decision it replaced holds again."""
    set_up()
    from driftfield.desk.actions import undo_matches

    (found,) = guarded(lambda: undo_matches([match_id]))
    report(f"Undone: {found}.")


@click.command("rate", short_help="Set or list exchange rates.")
@click.argument("currency", required=False)
@click.argument("into", required=False)
@click.argument("rate", type=float, required=False)
@click.option("--day", callback=parse_day, metavar="DATE", help="The day of the rate.")
@click.option("--remove", is_flag=True, help="Remove the rate between the two.")
def rate_(
    currency: str | None, into: str | None, rate: float | None, day: date | None, remove: bool
) -> None:
    """Set that one unit of CURRENCY was RATE units of INTO on a day; without arguments, list all rates.

    \b
    Example:
      bin/driftfield rate EUR GBP 0.85 --day 2026-05-20
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.desk.actions import set_rate
    from driftfield.desk.rates import current_rates

    def work() -> None:
        if currency is None:
            for one in current_rates():
                click.echo(json.dumps(asdict(one), default=str))
            return
        if into is None or (rate is None) != remove:
            raise CoreError("Give both currencies, and a rate with --day, or --remove.")
        kept = set_rate(currency.upper(), into.upper(), rate, day)
        report("Rate removed." if kept is None else f"{kept}, on {kept.day}.")

    guarded(work)


COMMANDS = (across, matches, rate_)
