"""What buyers wrote: made-up texts about some niches' goods, with planted themes, copies and private details."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from .catalogue import Niche, seeded, singular
from .supply import LAST_DAY

Row = tuple[object, ...]


@dataclass(frozen=True)
class Facet:
    """A thing that is said of goods: complaints, praise, and praise that denies the complaint."""

    complaints: tuple[str, ...]
    praise: tuple[str, ...]
    denied: tuple[str, ...] = ()


ENGLISH = {
    "breaks": Facet(
        ("The seam split {soon}", "A seam gave way {soon}", "split along the seam {soon}, poor making"),
        ("The seams are strong and neatly made", "strong seams, made to last"),
        ("No seam has split so far",),
    ),
    "size": Facet(
        ("Far too small, check the measurements", "The measurements are wrong, it came too small", "too small for my {thing} bench"),
        ("Measurements are spot on, a roomy size", "A roomy size, the measurements are right"),
        ("It is not too small at all",),
    ),
    "packing": Facet(
        ("The parcel came dented without padding", "Dented parcel, thin cardboard, no padding", "cardboard torn and the parcel dented"),
        ("Thick padding in a stout parcel", "came in a stout parcel with thick padding"),
    ),
    "paper": Facet(
        ("Instructions are missing", "no instructions in any language I read", "The instructions leave out half the steps"),
        ("Clear instructions, step by step", "The instructions are clear and well drawn"),
    ),
    "colour": Facet(
        ("The colour is nothing like the photograph", "Photograph shows another colour", "colour much duller than in the photograph"),
        ("Lovely colour, just as in the photograph",),
    ),
    "smell": Facet(
        ("It smells of paint and glue", "A strong smell of glue that stays", "reeks of glue {soon}"),
        ("Smells of clean wood",),
        ("no smell of glue or paint",),
    ),
    "grip": Facet(
        ("The handle is slippery when wet", "slippery handle, my hand hurt {soon}"),
        ("A comfortable handle, easy on the hand", "comfortable to hold for hours, good handle"),
    ),
}  # fmt: skip
GERMAN = {
    "breaks": Facet(
        ("Die Naht ist {soon} gerissen", "Naht gerissen, schlecht verarbeitet", "An der Naht {soon} aufgerissen, schlecht verarbeitet"),
        ("Saubere Naht, gut verarbeitet", "Sehr gut verarbeitet mit sauberer Naht"),
        ("Die Naht ist nicht gerissen",),
    ),
    "size": Facet(
        ("Viel zu klein, die Maße stimmen nicht", "Maße falsch angegeben, kommt zu klein", "Leider zu klein geraten, Maße prüfen"),
        ("Die Maße passen genau, angenehm geräumig", "Geräumig und die Maße passen"),
    ),
    "packing": Facet(
        ("Paket kam verbeult ohne Polster", "Verbeultes Paket mit dünnem Karton"),
        ("Festes Paket mit dickem Polster", "Dickes Polster und fester Karton"),
    ),
    "smell": Facet(
        ("Riecht stark nach Kleber", "Der Geruch nach Kleber bleibt", "Starker Geruch nach Farbe und Kleber"),
        ("Riecht angenehm nach Holz",),
        ("Kein Geruch nach Kleber",),
    ),
}  # fmt: skip
SAID = {
    "english": (
        ENGLISH, ("after a week", "within days", "in the first month", "after two uses"),
        ("I bought it for the allotment", "My neighbour has one too", "It came in {month}", "This is my second {thing}",
         "I use it most weekends", "It hangs in the shed", "Ordered on a Sunday", "We are a small club", "My old one wore out"),
        ("March", "June", "October"), "Write to {name}.fell@example.org or ring 020 7946 0{number}.",
        ("Which size fits best?", "What size fits a grown hand?", "Can it stay out over winter?",
         "Will it last a winter outdoors?", "Is the handle replaceable?", "Can I buy a spare handle?",
         "What is it made of?", "Does it come with screws?", "How heavy is the large one?"),
        ("I wish it had a bag to keep it in", "A bag to carry it would be nice with it",
         "It should have come with a spare seal", "Would be better with a spare seal",
         "If only there were a longer one", "I was hoping for a longer cord", "Could do with a lid against dust"),
    ),
    "german": (
        GERMAN, ("nach einer Woche", "nach wenigen Tagen", "im ersten Monat"),
        ("Gekauft für den Schrebergarten", "Mein Nachbar benutzt das gleiche", "Kam im {month} an", "Mein zweites Stück",
         "Hängt im Schuppen", "Am Sonntag bestellt", "Das alte war abgenutzt"),
        ("März", "Juni", "Oktober"), "Schreiben Sie an {name}.fell@example.org oder 030 23125 0{number}.",
        ("Welche Größe passt am besten?", "Passt die kleine Größe für Kinder?",
         "Kann es im Winter draußen bleiben?", "Hält es den Winter im Freien aus?",
         "Gibt es Ersatzteile dafür?", "Woraus ist es gemacht?"),
        ("Eine Tasche dazu wäre schön", "Ich wünschte, es gäbe eine Tasche dafür",
         "Ich hätte gern eine längere Schnur", "Es könnte eine längere Schnur haben"),
    ),
}  # fmt: skip
# Niches about whose goods people write, by name, with how many texts; the first facet is what worsens.
WRITTEN = {
    "Rain gauges": 1800, "Kimchi crocks": 1800, "Hive straps": 1800, "Cider presses": 1800, "Sit mats": 1800,
    "Throw lines": 1800, "Rivet setters": 1500, "Moon filters": 1500, "Pocket compasses": 1500,
}  # fmt: skip


def written(niche: Niche, listings: list[str]) -> Iterator[Row]:
    """Texts about the goods of a niche; of none that nobody is said to write about."""
    many = WRITTEN.get(niche.name, 0)
    if not many or not listings:
        return
    language = "german" if niche.market.market_id == "south" else "english"
    facets, soon, beside, months, private, asked, wished = SAID[language]
    rng, wishing = seeded(niche.niche_id, "voices"), seeded(niche.niche_id, "wishes")
    names = [str(one) for one in rng.permutation(list(facets))]
    share = {name: float(rng.uniform(0.06, 0.2)) for name in names}
    bad = {name: float(rng.choice([0.2, 0.5, 0.8])) for name in names}
    bad[names[0]] = 0.8
    thing = singular(niche.goods).lower()

    def said(template: str) -> str:
        return template.format(
            soon=rng.choice(soon),
            month=rng.choice(months),
            thing=thing,
            name="jo",
            number=rng.integers(100, 999),
        )

    for at in range(many):
        ago = int(rng.integers(0, 728))
        kind = str(
            rng.choice(["review", "return", "comment", "question"], p=[0.8, 0.1, 0.05, 0.05])
        )
        text, mood = [], 0
        page = min(int(rng.exponential(4)), len(listings) - 1)
        for name in names:
            grown = 2.0 if name == names[0] and ago < 364 else 1.0
            # One listing has it worse than the others.
            grown *= 2.5 if name == names[1] and page == 1 else 1.0
            if rng.random() >= share[name] * grown:
                continue
            facet = facets[name]
            complains = kind == "return" or rng.random() < bad[name]
            text.append(
                said(
                    str(rng.choice(facet.complaints if complains else facet.praise + facet.denied))
                )
            )
            mood += -1 if complains else 1
        for _ in range(int(rng.integers(0 if text else 1, 3))):
            text.append(said(str(rng.choice(beside))))
        if wishing.random() < 0.05:
            text.append(str(wishing.choice(wished)))
        if kind == "question":
            text = [str(rng.choice(asked))]
        if rng.random() < 0.004:
            text.append(said(private))
        stars = float(np.clip(round(3.6 + 1.3 * np.sign(mood) + rng.normal(0, 0.6)), 1, 5))
        if rng.random() < 0.03:
            stars = 6 - stars  # Mockery, or a slip of the finger.
        whole = ". ".join(str(text[i]) for i in rng.permutation(len(text))) + "."
        whole = whole.replace("?.", "?")
        day = (LAST_DAY - timedelta(days=ago)).isoformat()
        listing = listings[page]
        rating = None if kind in ("question", "return") else stars
        own = niche.niche_id.replace("north-", "n-").replace("south-", "s-")
        yield (f"{own}-{at}", kind, whole, rating, day, listing, language)
        if rng.random() < 0.01:  # Copied under another name.
            yield (f"{own}-{at}-again", kind, whole.upper(), rating, day, listing, language)
