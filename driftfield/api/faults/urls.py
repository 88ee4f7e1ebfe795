from django.urls import path

from . import views

urlpatterns = [
    path("faults/", views.FaultsView.as_view(), name="faults"),
]
