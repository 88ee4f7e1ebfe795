from django.urls import path

from . import views

urlpatterns = [
    path("almanac/", views.AlmanacView.as_view(), name="almanac"),
    path("almanac/weeks/", views.AlmanacWeeksView.as_view(), name="almanac-weeks"),
    path("almanac/file/", views.AlmanacFile.as_view(), name="almanac-file"),
    path("almanac/calendar/", views.AlmanacCalendar.as_view(), name="almanac-calendar"),
]
