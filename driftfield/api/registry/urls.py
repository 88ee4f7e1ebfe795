from django.urls import path

from . import views

urlpatterns = [
    path("markets/", views.Markets.as_view(), name="markets"),
    path("figures/", views.Figures.as_view(), name="figures"),
    path("signals/", views.Signals.as_view(), name="signals"),
    path("glossary/", views.Glossary.as_view(), name="glossary"),
    path("lenses/", views.Lenses.as_view(), name="ready-lenses"),
    path("parts/", views.Parts.as_view(), name="parts"),
    path("categories/", views.Categories.as_view(), name="categories"),
]
