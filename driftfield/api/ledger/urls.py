from django.urls import path

from . import views

urlpatterns = [
    path("ledger/", views.Ledger.as_view(), name="ledger"),
    path("ledger/file/", views.LedgerFile.as_view(), name="ledger-file"),
    path("ledger/ids/", views.LedgerIds.as_view(), name="ledger-ids"),
    path("ledger/points/", views.LedgerPoints.as_view(), name="ledger-points"),
    path("ledger/condition/", views.ConditionView.as_view(), name="condition"),
    path("ledger/distribution/", views.DistributionView.as_view(), name="distribution"),
    path("readings/file/", views.ReadingsFile.as_view(), name="readings-file"),
    path("tables/", views.TablesFile.as_view(), name="tables-file"),
]
