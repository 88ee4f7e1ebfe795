from django.urls import path

from . import views

urlpatterns = [
    path("own/part/", views.OwnPartView.as_view(), name="own-part"),
    path("own/part/file/", views.OwnPartFile.as_view(), name="own-part-file"),
    path("niche/own/", views.NicheOwnView.as_view(), name="niche-own"),
]
