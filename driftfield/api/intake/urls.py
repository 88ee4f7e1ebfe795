from django.urls import path

from . import feed_views, mapping_views, views

urlpatterns = [
    path("intake/uploads/", views.Uploads.as_view(), name="uploads"),
    path(
        "intake/uploads/<str:folder>/",
        mapping_views.LayoutsOfUpload.as_view(),
        name="upload-layouts",
    ),
    path(
        "intake/uploads/<str:folder>/try/", mapping_views.TryMapping.as_view(), name="try-mapping"
    ),
    path(
        "intake/uploads/<str:folder>/file/<str:name>/",
        views.UploadedFile.as_view(),
        name="uploaded-file",
    ),
    path("intake/exchange-tables/", mapping_views.ExchangeTables.as_view(), name="exchange-tables"),
    path("intake/jobs/", views.Jobs.as_view(), name="jobs"),
    path("intake/jobs/<int:pk>/", views.JobView.as_view(), name="job"),
    path("intake/jobs/<int:pk>/stop/", views.StopJob.as_view(), name="stop-job"),
    path("intake/jobs/<int:pk>/resume/", views.ResumeJob.as_view(), name="resume-job"),
    path("intake/jobs/<int:pk>/import/", views.ImportChecked.as_view(), name="import-checked"),
    path("intake/jobs/<int:pk>/problems/", views.ProblemsOfJob.as_view(), name="job-problems"),
    path("intake/batches/", views.Batches.as_view(), name="batches"),
    path("intake/batches/<int:pk>/undo/", views.UndoBatch.as_view(), name="undo-batch"),
    path("intake/batches/<int:pk>/coverage/", views.BatchCoverage.as_view(), name="batch-coverage"),
    path(
        "intake/batches/<int:pk>/revisions/", views.BatchRevisions.as_view(), name="batch-revisions"
    ),
    path(
        "intake/batches/<int:pk>/revisions/file/",
        views.BatchRevisionsFile.as_view(),
        name="batch-revisions-file",
    ),
    path("intake/coverage/", views.Coverage.as_view(), name="coverage"),
    path("intake/feed/", feed_views.FeedView.as_view(), name="feed"),
    path("intake/feed/pull/", feed_views.PullFeed.as_view(), name="pull-feed"),
]
