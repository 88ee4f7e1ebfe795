"""Made-up texts of which it is known what they say: two recipes, which share neither goods nor words."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

START = 739_000  # Ordinal of a day in 2024.


@dataclass(frozen=True)
class Planted:
    """A thing that is said. complaints, praise: sentences, words in braces drawn from the recipe's lists; denied:
    praise that denies the complaint. share: of texts that say it; bad: of these, how many complain. late: how much
    more often it is said in the last year."""

    name: str
    complaints: tuple[str, ...]
    praise: tuple[str, ...]
    denied: tuple[str, ...] = ()
    share: float = 0.1
    bad: float = 0.7
    late: float = 1.0


@dataclass(frozen=True)
class Recipe:
    planted: tuple[Planted, ...]
    filler: tuple[str, ...]
    words: dict[str, tuple[str, ...]] = field(default_factory=dict)


@dataclass
class Made:
    """texts with what they are; said: for each planted thing and tone the places of the texts that say it; topic:
    of each sentence, in the order of the texts, the planted thing or −1; sentences: how many each text has."""

    texts: list[str]
    rating: np.ndarray
    day: np.ndarray
    said: dict[tuple[str, int], set[int]]
    topic: list[int]
    tone: list[int]


BELLS = Recipe(
    planted=(
        Planted("lid", (
            "The lid cracked in the first {cold}", "lid split {when} of {cold}", "Cracked lid, frost went right through the clay",
            "the lid has a crack since the {cold}", "Frost split the lid {when}"),
            ("The lid sits tight even in {cold}", "lid is thick and takes frost well"),
            ("lid did not crack in the {cold}", "No crack in the lid after {cold}"), 0.14, 0.8, 2.2),
        Planted("size", (
            "Far too small for my {plant}", "much smaller than the picture shows", "The size is tiny, {plant} outgrew it {when}",
            "Too small, a grown {plant} does not fit under it"),
            ("Big enough for a grown {plant}", "Generous size, plenty of room for {plant}"),
            ("It is not too small for my {plant}",), 0.12, 0.75),
        Planted("packing", (
            "Arrived in pieces, the parcel had no padding", "Parcel was badly packed and the pot came broken",
            "box dented, no padding, shards everywhere", "Came broken because of thin packing"),
            ("Well packed with lots of padding", "Parcel came with thick padding round the pot"),
            ("Nothing arrived broken, the packing is good",), 0.1, 0.6),
        Planted("handle", (
            "The handle came off when I lifted it", "Handle is loose and wobbles", "knob on top snapped off in my hand",
            "loose handle, the knob wobbles"),
            ("The handle is easy to grip", "A knob that is easy to grip with gloves"), (), 0.08, 0.5),
        Planted("sweet stalks", (
            "Stalks stayed green and bitter",),
            ("Sweet pink stalks {when}", "The stalks came up pink and sweet", "Pale pink stalks, so sweet",
             "Best sweet stalks we had in years"), (), 0.2, 0.02),
    ),
    filler=(
        "Bought this for the allotment", "My neighbour has the same", "Ordered it in {month}", "I use it every year",
        "It stands by the shed", "A present for my father", "Delivery took {when}", "I have had mine since {month}",
        "We grow our own vegetables", "Would order from here again", "Looks like the picture",
    ),
    words={
        "cold": ("frost", "winter", "hard frost", "cold night"), "when": ("after a week", "within days", "in April", "this spring"),
        "plant": ("rhubarb", "crown", "seakale"), "month": ("March", "January", "autumn"),
    },
)  # fmt: skip
STOVES = Recipe(
    planted=(
        Planted("leak", (
            "Fuel leaks at the valve", "the valve drips spirit all over", "Leaking valve, {where} smelled of spirit",
            "It drips from the seal and wastes fuel"),
            ("The seal is tight and keeps fuel in",),
            ("It does not leak", "The valve never drips", "No leak at the seal even {where}"), 0.15, 0.65),
        Planted("boil", (
            "Takes ages to boil a {vessel} of water", "Weak flame, water hardly gets hot", "slow to boil, the flame is weak"),
            ("Boils a {vessel} of water in minutes", "Strong flame, water is hot at once", "A quick boil with a strong flame"),
            (), 0.2, 0.4),
        Planted("wind", (
            "Any breeze blows it out", "The windshield is flimsy, a gust puts it out", "Goes out in the slightest gust"),
            ("Burns on in a stiff breeze", "The windshield holds off every gust"),
            ("The windshield is not flimsy",), 0.1, 0.7, 0.4),
        Planted("rust", (
            "Rusted after one trip", "rust spots on the legs {where}", "Legs have gone rusty", "cheap steel that rusts"),
            ("Steel legs that stay bright",), ("no rust on the steel legs after years",), 0.09, 0.85),
        Planted("weight", (
            "Heavier than stated", "Adds weight to the pack, too heavy"),
            ("So light I forget it is in my pack", "Light and small, packs away in a mug", "Feather light, hardly any weight"),
            ("not heavy at all in the pack",), 0.16, 0.15),
    ),
    filler=(
        "Took it up the fells in {month}", "My second one", "Came with a bag", "We hike most weekends", "Used it {where}",
        "The colour is as shown", "Bought two for the club", "It was on offer", "Instructions are in the box",
        "My brother recommended it", "Good value some say",
    ),
    words={
        "where": ("in the tent", "on the ridge", "by the loch"), "vessel": ("litre", "mug", "pot"),
        "month": ("May", "October", "summer"),
    },
)  # fmt: skip


def made(recipe: Recipe, many: int, seed: int) -> Made:
    """Texts by a recipe: each says some planted things in one tone each, among filler; one in 30 is mocking."""
    rng = np.random.default_rng(seed)

    def spoken(template: str) -> str:
        for name, options in recipe.words.items():
            while f"{{{name}}}" in template:
                template = template.replace(f"{{{name}}}", str(rng.choice(options)), 1)
        return template

    texts, rating, day = [], [], []
    said: dict[tuple[str, int], set[int]] = {}
    topic, tones = [], []
    for number in range(many):
        when = int(rng.integers(0, 728))
        sentences: list[tuple[str, int, int]] = []
        mood = 0
        for at, one in enumerate(recipe.planted):
            factor = one.late if when >= 364 else 1.0
            if rng.random() >= min(one.share * factor, 0.9):
                continue
            bad = rng.random() < one.bad
            options = one.complaints if bad else one.praise + one.denied
            tone = -1 if bad else 1
            sentences.append((spoken(str(rng.choice(options))), at, tone))
            said.setdefault((one.name, tone), set()).add(number)
            mood += tone
        for _ in range(int(rng.integers(0 if sentences else 1, 3))):
            sentences.append((spoken(str(rng.choice(recipe.filler))), -1, 0))
        order = rng.permutation(len(sentences))
        texts.append(". ".join(sentences[i][0] for i in order) + ".")
        topic += [sentences[i][1] for i in order]
        tones += [sentences[i][2] for i in order]
        stars = 3.6 + 1.3 * np.sign(mood) + rng.normal(0, 0.6)
        if rng.random() < 1 / 30:
            stars = 6 - stars  # Mockery, or a slip of the finger.
        rating.append(float(np.clip(round(stars), 1, 5)))
        day.append(float(START + when))
    return Made(texts, np.array(rating), np.array(day), said, topic, tones)
