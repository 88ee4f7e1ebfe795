from django.urls import path

from . import views

urlpatterns = [
    path("desk/orders/", views.OrdersView.as_view(), name="orders"),
    path("desk/orders/file/", views.OrdersFile.as_view(), name="orders-file"),
    path("desk/orders/cash/", views.OrdersCash.as_view(), name="orders-cash"),
]
