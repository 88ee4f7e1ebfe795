from django.urls import path

from . import views

urlpatterns = [
    path("rivals/listing/", views.ListingView.as_view(), name="listing"),
    path("rivals/listing/page/", views.ListingPageView.as_view(), name="listing-page"),
]
