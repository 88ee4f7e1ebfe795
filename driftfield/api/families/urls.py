from django.urls import path

from . import views

urlpatterns = [
    path("families/", views.Families.as_view(), name="families"),
    path("families/family/", views.FamilyView.as_view(), name="family"),
    path("families/chosen/", views.ChosenFamily.as_view(), name="chosen-family"),
]
