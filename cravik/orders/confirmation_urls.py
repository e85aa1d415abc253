from django.urls import path, re_path

from cravik.orders import confirmation_views as views
from cravik.orders import preview_views
from cravik.orders.invoicing import document_views
from cravik.orders.running import payments_views

app_name = "confirmation"
urlpatterns = [
    path("", views.find, name="find"),
    path("file/<str:key>/", views.download, name="download"),
    path("sample/<id:link_id>/", preview_views.after_paying, name="sample"),
    path("<slug:reference>/", views.confirmation, name="page"),
    path("<slug:reference>/payments/", payments_views.payments, name="payments"),
    path("<slug:reference>/payments/stop/", payments_views.stopping, name="stop"),
    path("<slug:reference>/receipt/", document_views.own_receipt, name="receipt"),
    path("<slug:reference>/invoice/", document_views.own_invoice, name="invoice"),
    path("<slug:reference>/document/<id:document_id>/", document_views.own_document, name="document"),
    re_path(
        r"^(?P<reference>[-\w]+)/document/(?P<document_id>\d{1,18})/file\.(?P<ending>pdf|xml)$",
        document_views.own_document,
        name="document_file",
    ),
    path("<slug:reference>/call-off/", views.call_off_payment, name="call_off"),
]
