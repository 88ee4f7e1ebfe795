from django.urls import path
from drf_spectacular.views import SpectacularJSONAPIView

from . import views

urlpatterns = [
    path("v1/sign-in", views.SignIn.as_view()),
    path("v1/markets", views.Markets.as_view()),
    path("v1/markets/<str:market_id>/niches", views.Niches.as_view()),
    path("v1/markets/<str:market_id>/terms", views.Terms.as_view()),
    path("v1/markets/<str:market_id>/changes", views.Changes.as_view()),
    path("openapi.json", SpectacularJSONAPIView.as_view()),
    path("simulation/clock", views.Clock.as_view()),
]
