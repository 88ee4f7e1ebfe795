"""What a market feed answers: the contract that a real one would keep, too."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class SignIn(serializers.Serializer[Any]):
    """Who asks."""

    client_id = serializers.CharField()
    secret = serializers.CharField()


class Token(serializers.Serializer[Any]):
    """Good for ``expires_in`` seconds at most; after a 401 another one is taken."""

    token = serializers.CharField()
    expires_in = serializers.IntegerField(help_text="Seconds.")


class Refusal(serializers.Serializer[Any]):
    """Why a request failed (RFC 9457)."""

    title = serializers.CharField()
    status = serializers.IntegerField()
    detail = serializers.CharField(required=False)


class MarketRow(serializers.Serializer[Any]):
    """A market of the feed."""

    market_id = serializers.CharField()
    name = serializers.CharField()
    currency = serializers.CharField(help_text="ISO 4217.")
    region = serializers.CharField(allow_null=True)
    complete_until = serializers.DateField(help_text="Last day of the last week that is over.")


class NicheRow(serializers.Serializer[Any]):
    """A niche, to which terms belong."""

    niche_id = serializers.CharField()
    name = serializers.CharField()


class TermRow(serializers.Serializer[Any]):
    """A term and its niche."""

    term = serializers.CharField()
    niche_id = serializers.CharField(allow_null=True)


class ChangeRow(serializers.Serializer[Any]):
    """The figures of a term in a week, as they are from this change on. Of two changes of the same term
    and week the one with the greater number holds. Null is unknown."""

    term = serializers.CharField()
    week = serializers.DateField(help_text="Its Monday.")
    searches = serializers.FloatField(min_value=0)
    clicks = serializers.FloatField(min_value=0, allow_null=True)
    purchases = serializers.FloatField(min_value=0, allow_null=True)
    change = serializers.IntegerField()


NEXT = "Cursor of the next page; null on the last. It may be forgotten, which is said with 410."


class MarketPage(serializers.Serializer[Any]):
    rows = MarketRow(many=True)
    next = serializers.CharField(allow_null=True, help_text=NEXT)


class NichePage(serializers.Serializer[Any]):
    rows = NicheRow(many=True)
    next = serializers.CharField(allow_null=True, help_text=NEXT)


class TermPage(serializers.Serializer[Any]):
    rows = TermRow(many=True)
    next = serializers.CharField(allow_null=True, help_text=NEXT)


class ChangePage(serializers.Serializer[Any]):
    rows = ChangeRow(many=True)
    next = serializers.CharField(allow_null=True, help_text=NEXT)
    position = serializers.CharField(
        help_text="Where the feed is after this page; given as since, it tells what came after."
    )


class Forward(serializers.Serializer[Any]):
    """Weeks by which the simulation is put forward."""

    weeks = serializers.IntegerField(min_value=1, max_value=1000)


class ClockRow(serializers.Serializer[Any]):
    """Where the simulation is."""

    complete_until = serializers.DateField()
