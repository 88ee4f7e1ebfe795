from django.urls import path

from . import views

urlpatterns = [
    path("changes/", views.ChangesView.as_view(), name="changes"),
]
