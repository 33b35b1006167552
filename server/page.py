"""The one page of the interface, with this response's nonce for the styles it writes at run time, and with
the address of the recorder that the school has in its aircraft."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.html import escape
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from pydantic import ValidationError

from server.school.models import SchoolStandards

NOT_BUILT = "The web part is not built. Run 'make demo', which builds it, or 'npm run build' in web/."


@require_safe
@never_cache
def page(request: HttpRequest) -> HttpResponse:
    built = settings.WEB_BUILD / "index.html"
    if not built.exists():
        return HttpResponse(NOT_BUILT, content_type="text/plain; charset=utf-8", status=503)
    recorder = recorder_address()
    html = built.read_text(encoding="utf-8").replace("__NONCE__", str(request.csp_nonce))  # type: ignore[attr-defined]
    response = HttpResponse(html.replace("__RECORDER__", escape(recorder)))
    if recorder:
        # The one address besides ours that the page may connect to.
        response._csp_update = {"connect-src": [recorder]}  # type: ignore[attr-defined]
    return response


def recorder_address() -> str:
    """Of the school's recorder, "" for none. Without one too where the standards cannot be read: the page has
    to be there to say so."""
    try:
        return SchoolStandards.in_force().document().recorder
    except ValidationError:
        return ""
