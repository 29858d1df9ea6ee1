"""What stands at the door: host, content security policy, frames, and the check against forged requests."""

from collections.abc import Callable
from typing import Any

from api.refusals import misread
from django.core.exceptions import DisallowedHost
from django.http import HttpRequest, HttpResponse, HttpResponseForbidden
from django.middleware.csrf import CsrfViewMiddleware

# Emotion writes its styles into the page, so inline styles are allowed; scripts never are.
POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)
FORMS = ("multipart/form-data", "application/x-www-form-urlencoded")


def at_the_door(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Before anything answers, files included: the host is one of ours, and every answer has the policy and
    goes into nobody's frame.
    """

    def middleware(request: HttpRequest) -> HttpResponse:
        try:
            request.get_host()
        except DisallowedHost:
            return HttpResponse("There is no such host here.", status=400, content_type="text/plain")
        form = request.content_type in FORMS  # nothing here is sent by a form
        response = misread(422) if form else get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Frame-Options", "DENY")
        return response

    return middleware


class CsrfEverywhere(CsrfViewMiddleware):
    """Django's check on every view: the API's views are marked exempt by their framework, and must not be."""

    def process_view(
        self,
        request: HttpRequest,
        callback: Callable[..., Any] | None,
        callback_args: tuple[Any, ...],
        callback_kwargs: dict[str, Any],
    ) -> HttpResponseForbidden | None:
        """The check, without the exemption."""
        return super().process_view(request, lambda *args: HttpResponse(), callback_args, callback_kwargs)
