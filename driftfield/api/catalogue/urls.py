from django.urls import path

from . import chart_views, views

urlpatterns = [
    path("catalogue/", views.Tree.as_view(), name="catalogue"),
    path("catalogue/points/", chart_views.Points.as_view(), name="catalogue-points"),
    path("catalogue/icicle/", chart_views.IcicleView.as_view(), name="catalogue-icicle"),
    path("catalogue/category/", views.CategoryView.as_view(), name="category"),
    path("catalogue/curves/", views.Curves.as_view(), name="category-curves"),
    path("catalogue/sold/", views.Sold.as_view(), name="category-sold"),
    path("catalogue/ranges/", views.Ranges.as_view(), name="category-ranges"),
]
