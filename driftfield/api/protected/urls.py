from django.urls import path

from . import views

urlpatterns = [
    path("protected-words/", views.ProtectedWords.as_view(), name="protected-words"),
    path("protected-words/file/", views.ProtectedFile.as_view(), name="protected-words-file"),
]
