from django.urls import path, re_path

from cravik.orders import many_views, refund_views, sending_views, to_make_views, unpaid_views, views
from cravik.orders.invoicing import document_views, settings_views

app_name = "orders"
urlpatterns = [
    path("<id:order_id>/open-again/", views.open_downloads_again, name="open_again"),
    path("<id:order_id>/letters/", views.write_letters, name="write_letters"),
    path("<id:order_id>/send/", sending_views.send, name="send"),
    path("<id:order_id>/stage/", sending_views.stage, name="stage"),
    path("<id:order_id>/settle/", sending_views.settle, name="settle"),
    path("<id:order_id>/note/", sending_views.note, name="note"),
    path("<id:order_id>/letters/<id:letter_id>/again/", sending_views.letter_again, name="letter_again"),
    path("", views.orders, name="orders"),
    path("to-make/", to_make_views.list_to_make, name="to_make"),
    path("not-paid/", unpaid_views.not_paid, name="not_paid"),
    path("not-paid/<id:checkout_id>/letter/", unpaid_views.write, name="write_unpaid"),
    path("many/", many_views.many, name="many"),
    path("orders.csv", views.orders_file, name="orders_file"),
    path("journal.csv", views.journal_file, name="journal_file"),
    path("orders.json", views.orders_document, name="orders_document"),
    path("<id:number>/", views.order, name="order"),
    path("rehearsal/<id:number>/", views.rehearsal, name="rehearsal"),
    path("documents/settings/", settings_views.documents, name="documents"),
    path("documents/<id:document_id>/", document_views.document, name="document"),
    re_path(
        r"^documents/(?P<document_id>\d{1,18})/file\.(?P<ending>pdf|xml)$",
        document_views.document_file,
        name="document_file",
    ),
    path("<id:order_id>/documents/", document_views.make_documents, name="make_documents"),
    path("<id:number>/refund/", refund_views.refund, name="refund"),
    path("<id:number>/refund/sum/", refund_views.refund_sum, name="refund_sum"),
    path("rehearsal/<id:number>/refund/sum/", refund_views.refund_sum, {"rehearsal": True}),
    path("rehearsal/<id:number>/refund/", refund_views.refund, {"rehearsal": True}, name="refund_rehearsal"),
]
