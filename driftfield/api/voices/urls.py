from django.urls import path

from . import views

urlpatterns = [
    path("niche/voices/", views.VoicesView.as_view(), name="voices"),
    path("niche/voices/file/", views.VoicesFile.as_view(), name="voices-file"),
    path("niche/voices/sentences/", views.SentencesView.as_view(), name="voice-sentences"),
    path("rivals/voices/", views.VoicesBesideView.as_view(), name="voices-beside"),
    path("desk/themes/", views.ThemeDecisions.as_view(), name="theme-decisions"),
    path("desk/themes/undo/", views.UndoTheme.as_view(), name="undo-theme"),
    path("desk/pins/", views.Pins.as_view(), name="pins"),
    path("desk/pins/undo/", views.Unpin.as_view(), name="unpin"),
]
