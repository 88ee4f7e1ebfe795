from django.urls import path

from . import views

urlpatterns = [
    path("watch/", views.WatchView.as_view(), name="watch"),
    path("watch/file/", views.WatchFile.as_view(), name="watch-file"),
    path("watch/feed/", views.WatchFeed.as_view(), name="watch-feed"),
    path("watch/seen/", views.SeenView.as_view(), name="watch-seen"),
    path("history/", views.HistoryView.as_view(), name="history"),
]
