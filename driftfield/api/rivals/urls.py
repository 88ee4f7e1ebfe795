from django.urls import path

from . import own_views, together_views, views

urlpatterns = [
    path("rivals/listing/", views.ListingView.as_view(), name="listing"),
    path("rivals/listing/page/", views.ListingPageView.as_view(), name="listing-page"),
    path("rivals/brand/", views.BrandView.as_view(), name="brand"),
    path("rivals/brand/page/", views.BrandPageView.as_view(), name="brand-page"),
    path("rivals/seller/", views.SellerView.as_view(), name="seller"),
    path("rivals/seller/page/", views.SellerPageView.as_view(), name="seller-page"),
    path("rivals/together/", together_views.TogetherView.as_view(), name="together"),
    path("rivals/together/file/", together_views.TogetherFile.as_view(), name="together-file"),
    path("rivals/own/", own_views.OwnView.as_view(), name="own-sellers"),
    path("rivals/own/goods/", own_views.OwnGoodsView.as_view(), name="own-goods"),
    path("rivals/own/goods/file/", own_views.OwnGoodsFile.as_view(), name="own-goods-file"),
]
