from django.urls import path
from drf_spectacular.views import SpectacularJSONAPIView

from . import views

urlpatterns = [
    path("schema/", SpectacularJSONAPIView.as_view(), name="schema"),
    path("markets/", views.Markets.as_view(), name="markets"),
    path("figures/", views.Figures.as_view(), name="figures"),
    path("ledger/", views.Ledger.as_view(), name="ledger"),
    path("condition/", views.ConditionView.as_view(), name="condition"),
    path("spread/", views.SpreadView.as_view(), name="spread"),
    path("sieves/", views.Sieves.as_view(), name="sieves"),
    path("signals/", views.Signals.as_view(), name="signals"),
    path("parts/", views.Parts.as_view(), name="parts"),
    path("lenses/", views.Lenses.as_view(), name="lenses"),
    path("rank/", views.Rank.as_view(), name="rank"),
    path("terms/", views.Terms.as_view(), name="terms"),
    path("preview/", views.Preview.as_view(), name="preview"),
    path("decisions/", views.Decisions.as_view(), name="decisions"),
    path("decisions/undo/", views.Undo.as_view(), name="undo"),
]
