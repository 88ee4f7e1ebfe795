"""Writes what is made from the code: ``python -m docs.generate``; with --check, says what is stale.

The record of each kind in schemas/, the tables of docs/exchange.md, the tables of figures, settings, parts
and signals in docs/method.md, and docs/glossary.md.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from driftfield.core.base import Settings, Threshold
from driftfield.core.market import FIGURES, KINDS, NICHE
from driftfield.core.ranking import PARTS
from driftfield.core.sentences import WORDS, record_schema
from driftfield.core.signals import SIGNALS, THRESHOLDS, Condition, Is
from driftfield.exchange.tables import Column, Table, tables

ROOT = Path(__file__).resolve().parents[1]
# The record of a kind has its name, but for that which came first.
RECORDS = {NICHE: "reading"}


def _row(*cells: str) -> str:
    return "| " + " | ".join(cell.replace("|", "\\|") for cell in cells) + " |"


def figures_table() -> str:
    """A row a figure."""
    lines = [_row("key", "figure", "unit", "formula", "source", "needs", "of"), _row(*["---"] * 7)]
    lines += [
        _row(
            f"`{f.key}`",
            f.label,
            f.unit or "–",
            f.formula,
            f.source,
            f"`{f.needs}`",
            ", ".join(kind.plural for kind in f.kinds),
        )
        for f in FIGURES
    ]
    return "\n".join(lines)


def _setting_row(one: Threshold, text: str) -> str:
    return _row(f"`{one.key}`", f"{one.default:g}", f"{one.low:g} to {one.high:g}", text)


def settings_table() -> str:
    """A row a setting."""
    lines = [_row("key", "default", "range", "what it does"), _row(*["---"] * 4)]
    lines += [_setting_row(one, one.help) for one in Settings.declared()]
    for threshold in THRESHOLDS:
        rules = [rule.name for rule in SIGNALS if threshold in rule.thresholds]
        of = f"{threshold.help} Of {', '.join(f'“{name}”' for name in rules)}."
        lines.append(_setting_row(threshold, of if rules else threshold.help))
    return "\n".join(lines)


def glossary_table() -> str:
    """A row a word."""
    lines = [_row("word", "meaning", "figures"), _row(*["---"] * 3)]
    lines += [
        _row(
            one.word,
            f"{one.short} {one.more}".strip(),
            ", ".join(f"`{key}`" for key in one.figures),
        )
        for one in sorted(WORDS, key=lambda one: one.word.lower())
    ]
    return "\n".join(lines)


def parts_table() -> str:
    """A row a part of headroom."""
    lines = [_row("part", "side", "weight", "figure", "what it stands for"), _row(*["---"] * 5)]
    for part in PARTS:
        way = "more" if part.more_is_more else "less"
        lines.append(
            _row(
                f"`{part.key}`",
                f"{way} {part.side}",
                f"{part.weight:g}",
                f"`{part.figure}`",
                part.why,
            )
        )
    return "\n".join(lines)


def _clause(clause: Condition) -> str:
    """A clause of a rule in words."""
    if isinstance(clause, Is):
        return f"`{clause.figure}` is {clause.word}"
    named = clause.than.key if isinstance(clause.than, Threshold) else clause.than
    than = f"`{named}`" if isinstance(named, str) else f"{named:g}"
    of = f" × `{clause.of}`" if clause.of else ""
    return f"`{clause.figure}` {'≥' if clause.above else '≤'} {than}{of}"


def signals_table() -> str:
    """A row a signal."""
    lines = [_row("key", "signal", "for the entrant", "raised where"), _row(*["---"] * 4)]
    for rule in SIGNALS:
        when = " and ".join(_clause(clause) for clause in rule.when)
        lines.append(_row(f"`{rule.key}`", rule.name, rule.tone, when))
    return "\n".join(lines)


def _rule(column: Column) -> str:
    rules = ["required"] if column.required else []
    if column.minimum is not None and column.maximum is not None:
        rules.append(f"{column.minimum:g} to {column.maximum:g}")
    elif column.minimum is not None:
        rules.append(f"{column.minimum:g} or more")
    if column.choices:
        rules.append(" or ".join(column.choices))
    return ", ".join(rules) or "–"


def _exchange(table: Table) -> str:
    names = [c.name for c in table.columns]
    example = [c.example for c in table.columns]
    lines = [
        f"### {table.name}.csv",
        "",
        f"{table.description} A line is known by {' and '.join(f'`{k}`' for k in table.key)}."
        + (
            f" It gives one of {' and '.join(f'`{k}`' for k in table.one_of)}."
            if table.one_of
            else ""
        ),
        "",
        _row("column", "type", "rule", "meaning"),
        _row(*["---"] * 4),
    ]
    lines += [_row(f"`{c.name}`", c.type, _rule(c), c.description) for c in table.columns]
    lines += ["", "```csv", ",".join(names), ",".join(f'"{e}"' if "," in e else e for e in example)]
    return "\n".join([*lines, "```"])


def exchange_tables() -> str:
    """A section a table."""
    return "\n\n".join(_exchange(table) for table in tables().values())


def between(text: str, name: str, made: str) -> str:
    """``text`` with what stands between the two markers called ``name`` replaced."""
    begin, end = f"<!-- made: {name} -->", f"<!-- end: {name} -->"
    head, rest = text.split(begin)
    _, tail = rest.split(end)
    return f"{head}{begin}\n\n{made}\n\n{end}{tail}"


def made_files() -> dict[Path, str]:
    """Each made file with what it should hold."""
    method = (ROOT / "docs/method.md").read_text("utf-8")
    method = between(method, "figures", figures_table())
    method = between(method, "settings", settings_table())
    method = between(method, "parts", parts_table())
    method = between(method, "signals", signals_table())
    exchange = (ROOT / "docs/exchange.md").read_text("utf-8")
    glossary = between((ROOT / "docs/glossary.md").read_text("utf-8"), "glossary", glossary_table())
    records = {
        ROOT / f"schemas/{RECORDS.get(kind, kind.key)}.schema.json": json.dumps(
            record_schema(kind), indent=2, ensure_ascii=False
        )
        + "\n"
        for kind in KINDS
    }
    return {
        **records,
        ROOT / "docs/method.md": method,
        ROOT / "docs/glossary.md": glossary,
        ROOT / "docs/exchange.md": between(exchange, "tables", exchange_tables()),
    }


def stale() -> list[Path]:
    """Made files that do not hold what they should."""
    return [
        path
        for path, text in made_files().items()
        if not path.exists() or path.read_text("utf-8") != text
    ]


def main() -> None:
    if "--check" in sys.argv:
        if found := stale():
            sys.exit(f"Stale: {', '.join(str(p.relative_to(ROOT)) for p in found)}.")
        return
    for path, text in made_files().items():
        path.write_text(text, "utf-8")


if __name__ == "__main__":
    main()
