"""Commands of the watch: what changed between two looks at the same market."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path
from typing import Any

import click

from .common import guarded, parse_day, report, set_up, write_rows

_KINDS = click.Choice(["niches", "terms", "categories", "listings", "brands", "sellers"])
_PATH = click.Path(path_type=Path, exists=True)


@click.command(short_help="Show what changed beyond noise between two looks at a market.")
@click.argument("before", type=_PATH)
@click.argument("after", type=_PATH)
@click.option(
    "--of",
    "kinds",
    type=_KINDS,
    multiple=True,
    default=["niches"],
    show_default=True,
    help="What is compared; may be repeated. Files of records say it themselves.",
)
@click.option(
    "--rate",
    type=float,
    default=0.05,
    show_default=True,
    help="False discovery rate: of the changes told beside facts, at most this share is chance.",
)
@click.option(
    "--before-as-of", callback=parse_day, metavar="DATE", help="Read BEFORE up to this day."
)
@click.option(
    "--after-as-of", callback=parse_day, metavar="DATE", help="Read AFTER up to this day."
)
@click.option(
    "--set", "pairs", multiple=True, metavar="KEY=VALUE", help="Change a setting; may be repeated."
)
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="CSV, XLSX or JSON, by the ending; else JSON lines.",
)
def changes(
    before: Path,
    after: Path,
    kinds: tuple[str, ...],
    rate: float,
    before_as_of: date | None,
    after_as_of: date | None,
    pairs: tuple[str, ...],
    out: Path | None,
) -> None:
    """Show what changed beyond noise from BEFORE to AFTER, by consequence, one JSON line each.

    Both are folders or packages of exchange tables, or files of records of bin/driftfield analyse (.jsonl).
    A line says of which niche (or what --of says) what changed, what it was and is, the interval of what it
    is, and the chance of as much where nothing changed; that is null for facts, such as a date that has
    passed. What the earlier figures could tell already is not told again. No database is used.

    \b
    Examples:
      bin/driftfield changes last-week this-week --out changes.jsonl
      bin/driftfield changes demo/harrow-quay.zip demo/harrow-quay.zip --before-as-of 2026-02-15
    """  # fmt: skip
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import KINDS_BY_PLURAL
    from driftfield.core.signals import THRESHOLDS
    from driftfield.exchange.changes import COLUMNS, changes_between, read_look

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        wanted = [KINDS_BY_PLURAL[one] for one in dict.fromkeys(kinds)]
        looks = [
            read_look(path, wanted, settings, day)
            for path, day in ((before, before_as_of), (after, after_as_of))
        ]
        found, rows = changes_between(looks[0], looks[1], rate, settings)
        write_rows("changes", COLUMNS, rows, out)
        many = len(rows)
        where = "" if out is None else f"; written to {out}"
        told = "Nothing changed" if not many else f"{many:,} {'change' if many == 1 else 'changes'}"
        report(
            f"{told} from {looks[0].as_of} to {looks[1].as_of}, of {found.tested:,} comparisons "
            f"at a false discovery rate of {rate:.0%}{where}."
        )
        for number, text in (
            (len(found.came), "came"),
            (len(found.went), "are not there any more"),
        ):
            if number:
                report(f"Note: {number:,} {text}.")

    guarded(work)


@click.command(short_help="Show what the watch tells of MARKET, or mail it.")
@click.argument("market", metavar="MARKET")
@click.option(
    "--since",
    type=int,
    metavar="LOOK",
    help="Since an earlier import; --looks lists them.",
)
@click.option("--looks", is_flag=True, help="List the imports that can be looked back to.")
@click.option("--all", "seen", is_flag=True, help="Also what was seen already.")
@click.option("--mark-seen", is_flag=True, help="Mark what is shown as seen.")
@click.option(
    "--mail", "addresses", multiple=True, metavar="ADDRESS", help="Mail it; may be repeated."
)
@click.option("--url", default="", help="Address of the application, put under the mail.")
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="TXT, CSV, XLSX, JSON or ATOM, by the ending; default is plain text on standard output.",
)
def digest(
    market: str,
    since: int | None,
    looks: bool,
    seen: bool,
    mark_seen: bool,
    addresses: tuple[str, ...],
    url: str,
    out: Path | None,
) -> None:
    """Show what changed about what is watched in MARKET and was not seen yet, and what is due.

    What is kept, parked, planned or on a list is watched, and every named sieve. Mail goes to the server that
    DRIFTFIELD_MAIL_HOST names (with DRIFTFIELD_MAIL_PORT, _USER, _PASSWORD, _TLS=1 and _FROM); without one it
    is put into the folder mail of the data folder.

    \b
    Examples:
      bin/driftfield digest north
      bin/driftfield digest north --mail me@example.org
    """  # fmt: skip
    if addresses and (seen or since is not None or out is not None):
        raise click.UsageError(
            "--mail sends what is not seen yet; leave --since, --all and --out away."
        )
    set_up()
    from driftfield.desk import actions
    from driftfield.desk.watch import digest as read_digest
    from driftfield.desk.watch import standing_looks
    from driftfield.market.models import Market

    def work() -> None:
        one = Market.objects.filter(market_id=market, run__isnull=False).first()
        if one is None:
            known = Market.objects.filter(run__isnull=False).values_list("market_id", flat=True)
            raise click.ClickException(
                f"There is no analysed market “{market}”. Known: {', '.join(known) or 'none'}."
            )
        if looks:
            for look in standing_looks(market):
                click.echo(f"{look.pk}  as of {look.as_of}  kept {look.made_at:%Y-%m-%d %H:%M}")
            return
        if addresses:
            sent = actions.mail_digest(one, addresses, url)
            report(f"Mailed to {', '.join(addresses)}." if sent else "Nothing to mail.")
        else:
            _write_digest(read_digest(one, since, seen=seen), out, url)
        if mark_seen:
            shown = read_digest(one, since, seen=seen)
            ids = [row["id"] for row in (*shown["changes"], *shown["sieves"]) if row["id"]]
            report(f"{actions.mark_seen(market, ids)} marked as seen.")

    guarded(work)


def _write_digest(found: dict[str, Any], out: Path | None, url: str) -> None:
    from driftfield.desk.watch.out import LIST_COLUMNS, digest_feed, digest_rows, digest_text

    form = "" if out is None else out.suffix[1:].lower()
    if out is None:
        click.echo(digest_text(found, url), nl=False)
    elif form == "json":
        out.write_text(json.dumps(found, ensure_ascii=False, indent=1, default=str), "utf-8")
    elif form in ("csv", "xlsx"):
        write_rows("changes", LIST_COLUMNS, digest_rows(found), out)
    elif form in ("atom", "xml"):
        base = url.rstrip("/")
        out.write_text(digest_feed(found, base, lambda kind, subject: f"{base}/watch"), "utf-8")
    else:
        out.write_text(digest_text(found, url), "utf-8")


@click.command(short_help="Write a package as it would have been on an earlier DAY.")
@click.argument("package", type=click.Path(path_type=Path, exists=True, dir_okay=False))
@click.argument("day", callback=parse_day, metavar="DAY")
@click.argument("out", type=click.Path(path_type=Path, dir_okay=False))
def cut(package: Path, day: date, out: Path) -> None:
    """Write the zip PACKAGE of exchange tables to OUT as it would have been on DAY.

    Weeks and months that were not over, listings not yet launched, offers not yet seen and texts not yet
    written are left out. Facts that have no date, as a rating, stay as they are today.

    \b
    Example:
      bin/driftfield cut demo/harrow-quay.zip 2026-02-15 earlier.zip
    """  # fmt: skip
    from driftfield.exchange.cut import cut_package

    kept = guarded(lambda: cut_package(package, day, out))
    report(", ".join(f"{table} {rows:,}" for table, rows in kept.items()) + f" written to {out}.")


COMMANDS = (changes, digest, cut)
