from django.urls import path

from . import views

urlpatterns = [
    path("desk/decisions/", views.Decisions.as_view(), name="decisions"),
    path("desk/decisions/reason/", views.Reasons.as_view(), name="reason"),
    path("desk/decisions/several/", views.DecisionsForSeveral.as_view(), name="decide-several"),
    path("desk/decisions/undo/", views.Undo.as_view(), name="undo"),
    path("desk/remarks/", views.Remarks.as_view(), name="remarks"),
    path("desk/shortlist/", views.Shortlist.as_view(), name="shortlist"),
    path("desk/shortlist/file/", views.ShortlistFile.as_view(), name="shortlist-file"),
    path("desk/shortlist/order/", views.ShortlistOrder.as_view(), name="shortlist-order"),
    path("desk/sieves/", views.Sieves.as_view(), name="sieves"),
    path("desk/lenses/", views.Lenses.as_view(), name="lenses"),
    path("desk/fees/", views.Fees.as_view(), name="fees"),
]
