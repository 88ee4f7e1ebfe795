from django.urls import path

from . import views

urlpatterns = [
    path("grouping/", views.GroupingView.as_view(), name="grouping"),
    path("grouping/propose/", views.Propose.as_view(), name="propose-niches"),
    path("grouping/take-over/", views.TakeOver.as_view(), name="take-over-niches"),
    path("grouping/make/", views.Make.as_view(), name="make-niche"),
    path("grouping/rename/", views.Rename.as_view(), name="rename-niche"),
    path("grouping/merge/", views.Merge.as_view(), name="merge-niches"),
    path("grouping/move/", views.Move.as_view(), name="move-terms"),
    path("grouping/undo/", views.Undo.as_view(), name="undo-niches"),
]
