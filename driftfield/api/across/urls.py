from django.urls import path

from . import views

urlpatterns = [
    path("side-by-side/", views.SideBySideView.as_view(), name="side-by-side"),
    path("across/", views.AcrossView.as_view(), name="across"),
    path("across/matched/", views.Matched.as_view(), name="matched"),
    path("across/proposed/", views.ProposedView.as_view(), name="proposed-matches"),
    path("across/matches/", views.MatchesView.as_view(), name="matches"),
    path("across/matches/undo/", views.UndoMatches.as_view(), name="matches-undo"),
    path("across/rates/", views.Rates.as_view(), name="rates"),
]
