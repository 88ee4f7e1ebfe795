"""URLs: the API under /api/, the application everywhere else."""

from django.urls import include, path, re_path

from driftfield.api.pages import application

urlpatterns = [
    path("api/", include("driftfield.api.urls")),
    # Every view of the application is a URL that can be sent; the browser's router reads it.
    re_path(r"^(?!api/|assets/).*$", application),
]

handler400 = "driftfield.api.errors.bad_request"
handler404 = "driftfield.api.errors.not_found"
handler500 = "driftfield.api.errors.server_error"
