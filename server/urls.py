"""Two doors: the API, and the page that draws it."""

from django.urls import path, re_path

from server.api import api
from server.page import page

handler500 = "server.errors.failed"
urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/)", page),
]
