"""Commands that change which niche the terms of a loaded market are in."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .common import Progress, guarded, report, set_up

if TYPE_CHECKING:
    from driftfield.market.models import Market, NicheChange


@click.group(short_help="Propose, make and change the niches of a loaded market.")
def niches() -> None:
    """Propose niches for the terms of a loaded market, make and change them, and undo that.

    What is changed here holds whatever is imported later. After a change the market is analysed again.
    """


def _market(market_id: str) -> Market:
    from driftfield.core.base import CoreError
    from driftfield.market.models import Market

    found = Market.objects.filter(market_id=market_id).first()
    if found is None:
        known = ", ".join(Market.objects.values_list("market_id", flat=True))
        raise CoreError(f"There is no market “{market_id}”. Known: {known or 'none'}.")
    return found


def _changed(market_id: str, change: Callable[[Any, Market], NicheChange]) -> None:
    """Make a change by the desk's actions, which ``change`` is given, and analyse the market again."""
    set_up()
    from driftfield.desk import actions
    from driftfield.desk.actions import analyse_and_watch
    from driftfield.readings.actions import stale

    def work() -> None:
        market = _market(market_id)
        done = change(actions, market)
        what = "Undone" if done.undone_at else "Done"
        report(f"{what}: {done.sentence}.")
        if not stale().filter(pk=market.pk).exists():
            return  # A name alone needs no analysis.
        report(analyse_and_watch(market, progress=Progress(f"Analysing {market_id}")).sentence)

    guarded(work)


@niches.command(short_help="Propose niches for the terms of MARKET.")
@click.argument("market")
@click.option("--anew", is_flag=True, help="Group all terms but those that were placed by hand.")
@click.option(
    "--out",
    type=click.Path(path_type=Path, file_okay=False),
    help="Also write the proposal to this new folder, as niches.csv and terms.csv.",
)
def propose(market: str, anew: bool, out: Path | None) -> None:
    """Propose niches for the terms of MARKET that have none, or for all. Nothing changes yet.

    \b
    Example:
      bin/driftfield niches propose north --out proposal
    """  # fmt: skip
    set_up()
    from driftfield.desk.actions import decided_niches
    from driftfield.exchange.folders import new_folder
    from driftfield.exchange.formulas import guarded as no_formulas
    from driftfield.readings.actions import proposal_sentence, proposed_tables
    from driftfield.readings.actions import propose as make_proposal

    def work() -> None:
        one = _market(market)
        if out is not None:
            new_folder(out)
        proposal = make_proposal(one, anew=anew, first=decided_niches(market))
        found, terms = proposed_tables(proposal)
        if out is not None:
            no_formulas(found).write_csv(out / "niches.csv")
            no_formulas(terms).write_csv(out / "terms.csv")
        for note in proposal.notes:
            report(note)
        report(f"{proposal_sentence(proposal)}.")

    guarded(work)


@niches.command("take-over", short_help="Let niches of the proposal of MARKET hold.")
@click.argument("market")
@click.argument("ids", nargs=-1, metavar="[NICHE …]")
def take_over_(market: str, ids: tuple[str, ...]) -> None:
    """Let the proposed niches with these ids hold, or all of them.

    \b
    Example:
      bin/driftfield niches take-over north swarm-lure-vials
    """  # fmt: skip

    _changed(market, lambda desk, one: desk.take_over(one, list(ids) or None))


@niches.command(short_help="Make a niche called NAME of terms.")
@click.argument("market")
@click.argument("name")
@click.argument("terms", nargs=-1, required=True, metavar="TERM …")
def make(market: str, name: str, terms: tuple[str, ...]) -> None:
    """Make a niche of terms, which leave the ones they are in.

    \b
    Example:
      bin/driftfield niches make north "Swarm lures" "swarm lure vial" "swarm lure vials"
    """  # fmt: skip

    _changed(market, lambda desk, one: desk.make_niche(one, name, terms))


@niches.command(short_help="Call a niche NAME.")
@click.argument("market")
@click.argument("niche")
@click.argument("name")
def rename(market: str, niche: str, name: str) -> None:
    """Call the niche with the id NICHE otherwise; its id stays."""

    _changed(market, lambda desk, one: desk.rename_niche(one, niche, name))


@niches.command(short_help="Merge niches into another one.")
@click.argument("market")
@click.argument("ids", nargs=-1, required=True, metavar="NICHE …")
@click.option("--into", required=True, metavar="NICHE", help="Id of the one they become part of.")
def merge(market: str, ids: tuple[str, ...], into: str) -> None:
    """Put all terms of niches into another one, whose name and decisions hold."""

    _changed(market, lambda desk, one: desk.merge_niches(one, ids, into))


@niches.command(short_help="Put terms into a niche.")
@click.argument("market")
@click.argument("terms", nargs=-1, required=True, metavar="TERM …")
@click.option("--into", required=True, metavar="NICHE", help="Id of the niche they go into.")
def move(market: str, terms: tuple[str, ...], into: str) -> None:
    """Put terms into a niche that there is."""

    _changed(market, lambda desk, one: desk.move_terms(one, terms, into))


@niches.command("take-out", short_help="Take terms out of their niches.")
@click.argument("market")
@click.argument("terms", nargs=-1, required=True, metavar="TERM …")
def take_out_(market: str, terms: tuple[str, ...]) -> None:
    """Take terms out of their niches, to stand alone; no proposal puts them back."""

    _changed(market, lambda desk, one: desk.take_out(one, terms))


@niches.command(short_help="Undo the latest change of the niches of MARKET.")
@click.argument("market")
def undo(market: str) -> None:
    """Undo the latest change that is not undone; one more undo takes back the one before."""

    _changed(market, lambda desk, one: desk.undo_change(one))


@niches.command(short_help="Show the changes of the niches of MARKET, as JSON lines.")
@click.argument("market")
def changes(market: str) -> None:
    """Show what was changed, the latest first, one JSON line a change."""
    set_up()
    from driftfield.market.models import NicheChange

    def work() -> None:
        for one in NicheChange.objects.filter(market_id=_market(market).market_id):
            line = {
                "sentence": one.sentence,
                "made_at": one.made_at.isoformat(timespec="seconds"),
                "undone_at": one.undone_at and one.undone_at.isoformat(timespec="seconds"),
                "terms": len(one.after["places"]),
            }
            click.echo(json.dumps(line, ensure_ascii=False))

    guarded(work)


COMMANDS = (niches,)
