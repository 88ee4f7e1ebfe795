from django.urls import path
from drf_spectacular.views import SpectacularJSONAPIView

from . import desk_views, views

urlpatterns = [
    path("schema/", SpectacularJSONAPIView.as_view(), name="schema"),
    path("markets/", views.Markets.as_view(), name="markets"),
    path("figures/", views.Figures.as_view(), name="figures"),
    path("ledger/", views.Ledger.as_view(), name="ledger"),
    path("ledger/list/", views.LedgerList.as_view(), name="ledger-list"),
    path("queue/", views.Queue.as_view(), name="queue"),
    path("points/", views.Points.as_view(), name="points"),
    path("condition/", views.ConditionView.as_view(), name="condition"),
    path("spread/", views.SpreadView.as_view(), name="spread"),
    path("sieves/", desk_views.Sieves.as_view(), name="sieves"),
    path("signals/", views.Signals.as_view(), name="signals"),
    path("categories/", views.Categories.as_view(), name="categories"),
    path("parts/", views.Parts.as_view(), name="parts"),
    path("lenses/", desk_views.Lenses.as_view(), name="lenses"),
    path("rank/", views.Rank.as_view(), name="rank"),
    path("terms/", views.Terms.as_view(), name="terms"),
    path("listings/", views.Listings.as_view(), name="listings"),
    path("dossier/", views.Dossier.as_view(), name="dossier"),
    path("preview/", views.Preview.as_view(), name="preview"),
    path("decisions/", desk_views.Decisions.as_view(), name="decisions"),
    path("decisions/reason/", desk_views.Reasons.as_view(), name="reason"),
    path("decisions/several/", desk_views.DecisionsForSeveral.as_view(), name="decide-several"),
    path("decisions/undo/", desk_views.Undo.as_view(), name="undo"),
    path("reckoning/", desk_views.Reckonings.as_view(), name="reckoning"),
    path("fees/", desk_views.Fees.as_view(), name="fees"),
    path("remarks/", desk_views.Remarks.as_view(), name="remarks"),
    path("shortlist/", desk_views.Shortlist.as_view(), name="shortlist"),
    path("shortlist/list/", desk_views.ShortlistFile.as_view(), name="shortlist-list"),
    path("shortlist/order/", desk_views.ShortlistOrder.as_view(), name="shortlist-order"),
]
