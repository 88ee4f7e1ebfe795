"""What the API says of what buyers write."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Text, Whole
from driftfield.core.voices import KINDS, Act, Promise
from driftfield.desk.voices import TONES


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


class VoiceSentence(serializers.Serializer[Any]):
    """A sentence as a buyer wrote it. marks: where the words of its theme begin and end; pinned: its pin."""

    voice_id = serializers.CharField()
    said = serializers.CharField()
    marks = serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    kind = serializers.ChoiceField(choices=KINDS)
    rating = _number()
    day = serializers.DateField(allow_null=True)
    listing_id = serializers.CharField(allow_null=True)
    title = serializers.CharField(allow_null=True)
    pinned = serializers.IntegerField(allow_null=True)


class SaidOfListing(serializers.Serializer[Any]):
    """A listing of which a theme is said most: by how many texts, of how many."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    own = serializers.IntegerField()
    whole = serializers.IntegerField()


class VoiceTheme(serializers.Serializer[Any]):
    """A theme of what buyers write, after the researcher's decisions."""

    id = serializers.CharField()
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=list(TONES.values()))
    found = serializers.BooleanField(help_text="It is as it was found; nobody decided on it.")
    hidden = serializers.BooleanField()
    words = serializers.ListField(child=serializers.CharField())
    texts = serializers.IntegerField()
    share = _number(help_text="Of all texts but the questions, with its 90% interval.")
    low = _number()
    high = _number()
    stars = _number(help_text="By how many stars it moves a rating, all other themes held.")
    late = _number(help_text="Share of the texts of the last 52 weeks.")
    early = _number(help_text="Share of those of the 52 weeks before.")
    grown = serializers.ChoiceField(choices=["more", "less"], allow_null=True)
    listings = serializers.IntegerField(help_text="Listings that it is said of.")
    most = SaidOfListing(many=True)
    sharing = serializers.IntegerField(help_text="Leaders that at least two texts say it of.")
    lacking = serializers.IntegerField(help_text="Leaders that surely lack it.")
    notes = serializers.IntegerField(help_text="Notes on returns that say it.")
    returned = _number(help_text="Share of all notes on returns, with its 90% interval.")
    returned_low = _number()
    returned_high = _number()
    spared = _number(help_text="That share times the niche's return rate.")
    spared_low = _number()
    spared_high = _number()
    merged = serializers.ListField(child=serializers.CharField())
    remedy = serializers.CharField(help_text="What a better product would do.")
    sentences = VoiceSentence(many=True)


class VoiceAsked(serializers.Serializer[Any]):
    """What is asked, or wished for. pages: leaders whose page has its words, of how many."""

    name = serializers.CharField()
    texts = serializers.IntegerField()
    helpful = _number()
    pages = serializers.IntegerField()
    of = serializers.IntegerField()
    sentences = VoiceSentence(many=True)


class ContrastPhrase(serializers.Serializer[Any]):
    """A phrase that one group of texts says more: own of ``of`` texts, against other of ``other_of``."""

    words = serializers.CharField()
    own = serializers.IntegerField()
    of = serializers.IntegerField()
    other = serializers.IntegerField()
    other_of = serializers.IntegerField()
    z = serializers.FloatField(help_text="Difference of the log-odds over its standard error.")


class VoiceContrasts(serializers.Serializer[Any]):
    """What is told apart; a contrast is left out where a side has under fifty texts."""

    category = ContrastPhrase(
        many=True, required=False, help_text="Said more here than in the rest of it."
    )
    market = ContrastPhrase(
        many=True, required=False, help_text="The same, where the category has too few."
    )
    low = ContrastPhrase(
        many=True, required=False, help_text="By those who rate low, against high."
    )
    now = ContrastPhrase(
        many=True, required=False, help_text="In the last 52 weeks, against the 52 before."
    )


class PromisedBy(serializers.Serializer[Any]):
    """What a page promises."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    attribute = serializers.CharField()
    value = serializers.CharField()


class BrokenPromise(serializers.Serializer[Any]):
    """What notes on returns say was not as promised: their share of all notes, with its 90% interval."""

    promise = serializers.ChoiceField(choices=[one.value for one in Promise])
    notes = serializers.IntegerField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    listings = serializers.IntegerField()
    promised = PromisedBy(many=True)
    sentences = VoiceSentence(many=True)


class ThemeDecisionRow(serializers.Serializer[Any]):
    """A decision on a theme that holds. idle: its theme is not found at present, and it waits."""

    key = serializers.IntegerField()
    act = serializers.ChoiceField(choices=[one.value for one in Act])
    theme = serializers.CharField()
    name = serializers.CharField()
    words = serializers.ListField(child=serializers.CharField())
    into = serializers.CharField()
    tone = serializers.ChoiceField(choices=list(TONES.values()))
    text = serializers.CharField()
    day = serializers.DateField()
    idle = serializers.BooleanField()


class PinnedSentence(serializers.Serializer[Any]):
    """A sentence that is kept with a niche's note, as it was written then."""

    key = serializers.IntegerField(source="pk")
    voice_id = serializers.CharField()
    said = serializers.CharField()
    theme = serializers.CharField()


class VoiceLanguage(serializers.Serializer[Any]):
    """A language in which something is written. read: whether it can be read."""

    language = serializers.CharField()
    texts = serializers.IntegerField()
    read = serializers.BooleanField()


class VoiceKinds(serializers.Serializer[Any]):
    """How many texts of each kind."""

    def get_fields(self) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
        """``return`` is a word of the language, so the fields cannot be declared like the others."""
        return {kind: serializers.IntegerField(default=0) for kind in KINDS}


class NicheVoices(serializers.Serializer[Any]):
    """What buyers write about a niche in one language, with what was decided on it."""

    verdict = serializers.ListField(child=serializers.CharField())
    languages = VoiceLanguage(many=True)
    language = serializers.CharField()
    texts = serializers.IntegerField(help_text="Without copies and questions.")
    copies = serializers.IntegerField()
    kinds = VoiceKinds()
    since = serializers.DateField(allow_null=True)
    until = serializers.DateField(allow_null=True)
    learnt = serializers.BooleanField(
        help_text="Tone was learnt from ratings; else it is the rating's."
    )
    leaders = serializers.IntegerField(
        help_text="Most clicked listings that something is written about."
    )
    leaders_of = serializers.IntegerField()
    return_rate = _number()
    themes = VoiceTheme(many=True)
    questions = VoiceAsked(many=True)
    wishes = VoiceAsked(many=True)
    promises = BrokenPromise(many=True)
    contrasts = VoiceContrasts()
    decisions = ThemeDecisionRow(many=True)
    pins = PinnedSentence(many=True)


class ThemeBeside(serializers.Serializer[Any]):
    """A theme in the texts about some listings, and in those about the others of their niche."""

    id = serializers.CharField()
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=list(TONES.values()))
    own = _number(help_text="Share of their texts, with its 90% interval.")
    low = _number()
    high = _number()
    others = _number(help_text="The same of the other listings' texts.")
    others_low = _number()
    others_high = _number()
    says = serializers.ChoiceField(
        choices=["more", "less"],
        allow_null=True,
        help_text="Where the two intervals, widened, lie apart.",
    )


class VoicesBeside(serializers.Serializer[Any]):
    """What is said of some listings in one niche, against its others."""

    niche_id = serializers.CharField()
    name = serializers.CharField()
    language = serializers.CharField()
    texts = serializers.IntegerField(help_text="About the listings.")
    others = serializers.IntegerField(help_text="About other listings of the niche.")
    themes = ThemeBeside(many=True)


class VoiceSentences(serializers.Serializer[Any]):
    """A page of the sentences that say a theme."""

    total = serializers.IntegerField()
    sentences = VoiceSentence(many=True)


class ThemeActRequest(serializers.Serializer[Any]):
    """A decision on a theme, or a theme of one's own by words."""

    market_id = Text(max_length=200)
    niche_id = Text(max_length=500)
    language = Text(max_length=40)
    act = serializers.ChoiceField(choices=[one.value for one in Act])
    theme = Text(max_length=300, required=False, default="", allow_blank=True)
    name = Text(max_length=1000, required=False, default="", allow_blank=True)
    words = serializers.ListField(
        child=Text(max_length=200, allow_blank=True), required=False, default=list, max_length=100
    )
    into = Text(max_length=300, required=False, default="", allow_blank=True)
    tone = serializers.ChoiceField(choices=list(TONES.values()), required=False, default="either")
    text = Text(max_length=4000, required=False, default="", allow_blank=True)


class ThemeActMade(serializers.Serializer[Any]):
    """The decision that was made or undone, by its key."""

    key = serializers.IntegerField(source="pk")


class KeyRequest(serializers.Serializer[Any]):
    """A decision, or a pin, by its key."""

    key = Whole(min_value=1, max_value=2**63 - 1)


class PinRequest(serializers.Serializer[Any]):
    """A sentence to be kept with a niche's note."""

    market_id = Text(max_length=200)
    niche_id = Text(max_length=500)
    voice_id = Text(max_length=200)
    said = Text(max_length=10_000)
    theme = Text(max_length=300, required=False, default="", allow_blank=True)
