"""Addresses: the API, and the one page for everything else."""

from api.app import api
from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The application's page; its script reads the address."""
    file = settings.WEB_DIST / "index.html"
    if not file.is_file():
        return HttpResponse(
            "The page is not built yet. Run “make build”.", status=503, content_type="text/plain"
        )
    response = HttpResponse(file.read_bytes(), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response


def robots(request: HttpRequest) -> HttpResponse:
    """Nothing here is for crawlers."""
    return HttpResponse("User-agent: *\nDisallow: /\n", content_type="text/plain")


urlpatterns = [path("api/", api.urls), path("robots.txt", robots), re_path(r"^(?!static/|api/).*$", page)]
