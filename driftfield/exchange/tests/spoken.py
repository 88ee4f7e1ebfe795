"""A market whose buyers write: about bells, with planted things, questions, wishes and notes on returns."""

from datetime import date

from driftfield.core.voices.tests.made import BELLS, made

from .packages import supplied_market, table

HEAD = "voice_id,kind,text,rating,day,listing_id,niche_id,term,language,helpful"
MANY = 900


def written(seed: int = 7, prefix: str = "b") -> list[tuple]:
    """Texts about bells: two thirds by listings, one by the niche; a tenth are notes on returns."""
    bells = made(BELLS, MANY, seed)
    rows: list[tuple] = []
    for at, (text, stars, day) in enumerate(zip(bells.texts, bells.rating, bells.day, strict=True)):
        where = ("l1", "") if at % 3 == 0 else ("l2", "") if at % 3 == 1 else ("", "rf")
        kind, rated = ("return", "") if at % 10 == 0 else ("review", int(stars))
        day = date.fromordinal(int(day))
        rows.append((f"{prefix}{at}", kind, text, rated, day, *where, "", "", ""))
    return rows


def spoken_market() -> dict[str, str]:
    """The supplied market with what buyers write, of every kind, in three languages of which one cannot be read."""
    asked = [
        (f"q{at}", "question", f"{words} {at}?", "", "", "l1", "", "", "", at)
        for at, words in enumerate(["Is the glaze lead free, batch", "Lead free glaze in lot", "What colour is"])
    ]  # fmt: skip
    wished = [
        (f"w{at}", "comment", f"I wish it had a drain hole, gardener {at}.", "", "", "l2", "", "", "", "")
        for at in range(3)
    ]  # fmt: skip
    notes = [
        ("n1", "return", "Much smaller than the picture.", "", "", "l1", "", "", "", ""),
        ("n2", "return", "Came in a different colour.", "", "", "l2", "", "", "", ""),
        ("g1", "review", "Der Deckel ist gerissen.", 1, "", "l1", "", "", "German", ""),
        ("k1", "review", "nuqneH qaStaHvIS", 1, "", "l1", "", "", "klingon", ""),
        ("t1", "comment", "A filter for the moon.", "", "", "", "", "moon filter", "", ""),
        ("x1", "comment", "About nothing that is known.", "", "", "", "", "", "", ""),
    ]
    rows = [*written(), *asked, *wished, *notes]
    rows.append(("again", "review", f"{rows[0][2].upper()}!!", 1, "", "l1", "", "", "", ""))
    return supplied_market() | {"voices": table(HEAD, *rows)}
