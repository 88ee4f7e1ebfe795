from django.urls import path

from . import views

urlpatterns = [
    path("word-lists/", views.WordLists.as_view(), name="word-lists"),
    path("word-lists/list/", views.WordListView.as_view(), name="word-list"),
    path("word-lists/drop/", views.Drop.as_view(), name="word-list-drop"),
    path("word-lists/file/", views.WordListFile.as_view(), name="word-list-file"),
    path("word-lists/total/", views.Total.as_view(), name="word-list-total"),
]
