from django.urls import path

from . import views, word_views

urlpatterns = [
    path("niche/", views.NicheView.as_view(), name="niche"),
    path("niche/demand/", views.DemandView.as_view(), name="demand"),
    path("niche/curves/", views.Curves.as_view(), name="curves"),
    path("niche/holders/", views.HoldersView.as_view(), name="holders"),
    path("niche/listings/", views.Listings.as_view(), name="listings"),
    path("niche/listings/history/", views.ListingView.as_view(), name="listing-history"),
    path("niche/leads/", views.LeadsView.as_view(), name="leads"),
    path("niche/terms/", views.Terms.as_view(), name="terms"),
    path("niche/terms/detail/", views.TermsDetail.as_view(), name="terms-detail"),
    path("niche/terms/file/", views.TermsFile.as_view(), name="terms-file"),
    path("niche/terms/destinations/", views.DestinationsView.as_view(), name="destinations"),
    path("niche/words/", word_views.WordsForListingView.as_view(), name="listing-words"),
    path("niche/feedback/", views.FeedbackView.as_view(), name="feedback"),
    path("niche/costs/", views.Costs.as_view(), name="costs"),
]
