"""The content security policy: everything comes from this server."""

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseForbidden
from django.middleware.csrf import CsrfViewMiddleware

# Emotion writes its styles into the page, so inline styles are allowed; scripts never are.
POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


def content_security_policy(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Add the policy to every answer."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
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
