"""Addresses: the API, and the one page for everything else."""

from api.app import api
from api.refusals import misread, nothing_there, problem
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


def _refused(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """What cannot be read as a request at all."""
    return misread(400)


def _nowhere(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """An address at which there is nothing."""
    return nothing_there()


def _fault(request: HttpRequest) -> HttpResponse:
    """A fault of the program's own, outside the API."""
    return problem(500, "fault", "Something went wrong here", "That is a fault of the program, not yours.")


def forged(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A change that does not come from the application's own page."""
    return problem(
        403, "forged", "Not from this page", "Load the page again; changes are taken from it alone."
    )


handler400, handler404, handler500 = _refused, _nowhere, _fault
