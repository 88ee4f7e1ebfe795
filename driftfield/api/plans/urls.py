from django.urls import path

from . import views

urlpatterns = [
    path("niche/plan/", views.PlanNiche.as_view(), name="plan-niche"),
    path("desk/plans/", views.Plans.as_view(), name="plans"),
    path("desk/plans/file/", views.PlanFile.as_view(), name="plan-file"),
    path("desk/plans/undo/", views.UndoPlan.as_view(), name="undo-plan"),
]
