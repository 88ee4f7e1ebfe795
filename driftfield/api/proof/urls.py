from django.urls import path

from . import views

urlpatterns = [
    path("track-record/", views.TrackRecordView.as_view(), name="track-record"),
    path("track-record/lines/", views.TrackLinesView.as_view(), name="track-lines"),
    path("track-record/file/", views.TrackRecordFile.as_view(), name="track-record-file"),
    path("track-record/replay/", views.ReplayPast.as_view(), name="replay-past"),
    path("track-record/lens/", views.TakeFittedLens.as_view(), name="take-fitted-lens"),
]
