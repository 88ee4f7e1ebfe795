"""How languages word wishes and broken promises; written for this project, from how people write."""

from __future__ import annotations

from enum import StrEnum

WISHES = {
    "english": (
        r"\bwish(?:ed|ing)?\s+(?:it|they|this|there|you|the|i|we|that)\b",
        r"\bif\s+only\b",
        r"\bwould\s+(?:be|have\s+been)\s+(?:\w+\s+)?(?:better|nicer?|good|great|perfect|handy|useful|ideal)"
        r"\s+(?:if|with|to|in)\b",
        r"\bwould\s+(?:like|love|prefer|appreciate)\s+(?:it|them|to\s+see|to\s+have|a|an|more|some)\b",
        r"\bcould\s+(?:do\s+with|use)\s+(?:a|an|more|some|better|another)\b",
        r"\bshould\s+(?:have\s+(?:a|an|come|had|included)|come\s+with|include)\b",
        r"\b(?:only\s+thing|all\s+that\s+is|what\s+is)\s+missing\b",
        r"\bhop(?:e|ed|ing)\s+for\s+(?:a|an|more)\b",
        r"\bplease\s+(?:make|add|offer|sell)\b",
    ),
    "german": (
        r"\bwünsch(?:e|te|en|ten)?\b",
        r"\bwäre\s+(?:\w+\s+){0,2}(?:schöner|schön|gut|besser|toll|super|perfekt|praktisch|hilfreich)\b",
        r"\bhätte\s+(?:\w+\s+){0,2}(?:gerne|gern|lieber)\b",
        r"\bfehlt\s+(?:nur|noch|ein|eine)\b",
        r"\b(?:könnte|sollte|müsste)\s+(?:\w+\s+){0,4}(?:sein|haben|dabei|geben)\b",
        r"\bbitte\s+(?:mit|noch|auch)\b",
    ),
}


# Words of wishes that say nothing of what is wished for.
WISH_WORDS = {
    "english": """
        wish wished wishing hope hoped hoping only better nice nicer good great perfect handy useful ideal like
        love prefer appreciate missing please make add offer come included include
    """,
    "german": """
        wünsche wünschte wünschen wäre schön schöner gut besser toll super perfekt praktisch hilfreich hätte
        gern gerne lieber fehlt könnte sollte müsste haben sein geben gäbe bitte
    """,
}


class Promise(StrEnum):
    """What a page promises, and goods can fail to keep."""

    SIZE = "size"
    COLOUR = "colour"
    MATERIAL = "material"
    PARTS = "parts"
    PICTURE = "picture"


BROKEN = {
    "english": {
        Promise.SIZE: (
            r"\b(?:smaller|larger|bigger|shorter|narrower|wider|thinner|thicker)\b",
            # “No longer needed” and “took longer” are about something else.
            r"\b(?:is|was|are|were|came|much|far)\s+longer\s+than\b",
            r"\btoo\s+(?:small|big|large|short|long|narrow|wide|thin|thick)\b",
            r"\bwrong\s+size\b",
            r"\bnot\s+the\s+size\b",
            r"\b(?:doesn't|does\s+not|did\s+not|didn't|won't)\s+fit\b",
            r"\bmeasurements?\s+(?:is|are|was|were)\s+(?:\w+\s+)?(?:wrong|off|not)\b",
        ),
        Promise.COLOUR: (
            r"\b(?:different|other|another|wrong|not\s+the|off)\s+(?:\w+\s+)?colou?r\b",
            r"\bcolou?r\s+(?:(?:is|was|looks?|much)\s+)*(?:not|nothing|different|darker|lighter|paler|duller|off)\b",
            r"\b(?:darker|lighter|paler|duller)\s+than\b",
        ),
        Promise.MATERIAL: (
            r"\b(?:different|other|wrong|not\s+the|cheap|cheaper|flimsy)\s+material\b",
            r"\bnot\s+(?:real|solid|genuine)\s+\w+",
            r"\bmaterial\s+(?:is|was)\s+(?:\w+\s+)?(?:not|different|cheap)\b",
            r"\b(?:plastic|steel|wood)\s+instead\s+of\b",
        ),
        Promise.PARTS: (
            r"\b(?:missing|lacking|without|no)\s+(?:\w+\s+){0,2}"
            r"(?:parts?|pieces?|screws?|lids?|instructions?|manual)\b",
            r"\b(?:parts?|pieces?|screws?|lids?|instructions?)\s+(?:(?:is|are|was|were)\s+)?missing\b",
            r"\bincomplete\b",
        ),
        Promise.PICTURE: (
            r"\bnot\s+as\s+(?:shown|described|pictured|advertised|expected)\b",
            r"\b(?:than|from|in)\s+the\s+(?:picture|photo|photos|photograph|description)\b",
            r"\blooks?\s+different\b",
            r"\bnot\s+what\s+(?:\w+\s+){0,2}(?:ordered|shown|described)\b",
            r"\bmisleading\b",
        ),
    },
    "german": {
        Promise.SIZE: (
            r"\b(?:kleiner|größer|kürzer|schmaler|breiter|dünner|dicker)\b",
            r"\b(?:ist|war|sind|viel)\s+länger\s+als\b",
            r"\bzu\s+(?:klein|groß|kurz|lang|schmal|breit|dünn|dick)\b",
            r"\bfalsche\s+größe\b",
            r"\bpasst\s+nicht\b",
            r"\bmaße\s+(?:\w+\s+)?(?:falsch|nicht)\b",
        ),
        Promise.COLOUR: (
            r"\b(?:andere|falsche|nicht\s+die)\s+farbe\b",
            r"\bfarbe\s+(?:ist|war)\s+(?:\w+\s+)?(?:anders|falsch|nicht|dunkler|heller)\b",
            r"\b(?:dunkler|heller|blasser)\s+als\b",
        ),
        Promise.MATERIAL: (
            r"\b(?:anderes|falsches|billiges)\s+material\b",
            r"\bkein\s+echte[sr]?\s+\w+",
            r"\bmaterial\s+(?:ist|war)\s+(?:\w+\s+)?(?:anders|billig|nicht)\b",
            r"\b(?:plastik|stahl|holz)\s+statt\b",
        ),
        Promise.PARTS: (
            r"\b(?:fehlende|fehlt|fehlten|fehlen|ohne)\s+(?:\w+\s+){0,2}(?:teile?|schrauben?|deckel|anleitung)\b",
            r"\b(?:teile?|schrauben?|deckel|anleitung)\s+(?:fehlt|fehlen|fehlte|fehlten)\b",
            r"\bunvollständig\b",
        ),
        Promise.PICTURE: (
            r"\bnicht\s+wie\s+(?:abgebildet|beschrieben|gezeigt|erwartet)\b",
            r"\bals\s+(?:auf\s+dem\s+bild|abgebildet|beschrieben)\b",
            r"\bsieht\s+anders\s+aus\b",
            r"\birreführend\b",
        ),
    },
}
# Words that names of attributes hold which promise it, in English and German.
PROMISED_BY = {
    Promise.SIZE: (
        "size", "length", "width", "height", "diameter", "capacity", "volume", "depth", "größe", "länge",
        "breite", "höhe", "durchmesser", "inhalt",
    ),
    Promise.COLOUR: ("colour", "color", "farbe"),
    Promise.MATERIAL: ("material", "fabric", "wood", "stoff"),
    Promise.PARTS: ("pieces", "parts", "pack", "set", "teile", "stück"),
    Promise.PICTURE: (),
}  # fmt: skip
