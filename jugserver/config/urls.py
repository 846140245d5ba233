"""Where everything is: the API under /api/v1, the app everywhere else."""

from django.urls import path, re_path

from jugserver.config.api import api
from jugserver.config.page import app_page, health, ready, service_worker
from jugserver.http.problems import missing_path

urlpatterns = [
    path("api/health", health),
    path("api/ready", ready),
    path("api/v1/", api.urls),
    path("sw.js", service_worker),
    re_path(r"^(?!api/|static/).*$", app_page),
]
handler404 = missing_path
