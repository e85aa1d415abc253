"""Every address of the application. Buyers see ``/for/…``, ``/to/…``, ``/k/…``, ``/paid/…`` and ``/purchases/…``, pages
of others ask ``/k/…/on-page/`` and ``/on-page/``, sellers the rest."""

from django.conf import settings
from django.urls import include, path

from cravik.setup import health_views
from cravik.ui import usual_files
from cravik.ui import views as ui

urlpatterns = [
    path("", include("cravik.results.urls")),
    path("setup/", include("cravik.share.setup_urls")),
    path("", include("cravik.people.urls")),
    path("", include("cravik.setup.urls")),
    path("links/", include("cravik.links.urls")),
    path("links/", include("cravik.share.urls")),
    path("catalogue/", include("cravik.catalogue.urls")),
    path("pictures/", include("cravik.ui.picture_urls")),
    path("looks/", include("cravik.setup.look_urls")),
    path("terms/", include("cravik.setup.terms_urls")),
    path("orders/", include("cravik.orders.urls")),
    path("running/", include("cravik.orders.running.urls")),
    path("mailroom/", include("cravik.mailroom.urls")),
    path("counter/", include("cravik.payments.counter.urls")),
    path("for/", include("cravik.orders.pay_urls")),
    path("for/", include("cravik.checkout.urls")),
    path("to/", include("cravik.share.handle_urls")),
    path("k/", include("cravik.checkout.spot_urls")),
    path("", include("cravik.share.on_pages.urls")),
    path("paid/", include("cravik.orders.confirmation_urls")),
    path("purchases/", include("cravik.orders.purchases_urls")),
    path("healthy/", ui.healthy),
    path("healthy/deep/", health_views.deep, name="deep_health"),
    path("metrics", health_views.metrics, name="metrics"),
    path("robots.txt", usual_files.robots, name="robots"),
    path("favicon.ico", usual_files.favicon, name="favicon"),
    path(".well-known/security.txt", usual_files.security_txt, name="security_txt"),
    path(".well-known/change-password", usual_files.change_password, name="to_change_password"),
]
if settings.DEBUG:
    urlpatterns.append(path("ui/", include("cravik.ui.urls")))

handler400 = "cravik.ui.views.bad_request"
handler403 = "cravik.ui.views.not_allowed"
handler404 = "cravik.ui.views.not_found"
handler500 = "cravik.ui.views.broken"
