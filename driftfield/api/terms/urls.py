from django.urls import path

from . import views

urlpatterns = [
    path("terms/related/", views.RelatedView.as_view(), name="related"),
    path("terms/term/", views.TermView.as_view(), name="term"),
    path("terms/onward/", views.OnwardView.as_view(), name="onward"),
    path("terms/draw/", views.DrawView.as_view(), name="draw"),
]
