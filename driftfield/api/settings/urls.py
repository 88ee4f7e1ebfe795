from django.urls import path

from . import views

urlpatterns = [
    path("planning/", views.Planning.as_view(), name="planning"),
    path("settings/", views.SettingsOfMarket.as_view(), name="settings"),
    path("settings/language/", views.Language.as_view(), name="language"),
    path("settings/analyse/", views.AnalyseMarket.as_view(), name="analyse"),
    path("settings/niche/", views.SettingsOfNiche.as_view(), name="niche-settings"),
]
