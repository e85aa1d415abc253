from django.urls import path

from cravik.orders import many_views, refund_views, sending_views, to_make_views, unpaid_views, views

app_name = "orders"
urlpatterns = [
    path("<id:order_id>/open-again/", views.open_downloads_again, name="open_again"),
    path("<id:order_id>/letters/", views.write_letters, name="write_letters"),
    path("<id:order_id>/send/", sending_views.send, name="send"),
    path("<id:order_id>/stage/", sending_views.stage, name="stage"),
    path("<id:order_id>/note/", sending_views.note, name="note"),
    path("<id:order_id>/letters/<id:letter_id>/again/", sending_views.letter_again, name="letter_again"),
    path("", views.orders, name="orders"),
    path("to-make/", to_make_views.list_to_make, name="to_make"),
    path("not-paid/", unpaid_views.not_paid, name="not_paid"),
    path("not-paid/<id:checkout_id>/letter/", unpaid_views.write, name="write_unpaid"),
    path("many/", many_views.many, name="many"),
    path("orders.csv", views.orders_file, name="orders_file"),
    path("orders.json", views.orders_document, name="orders_document"),
    path("<id:number>/", views.order, name="order"),
    path("rehearsal/<id:number>/", views.rehearsal, name="rehearsal"),
    path("<id:number>/refund/", refund_views.refund, name="refund"),
    path("rehearsal/<id:number>/refund/", refund_views.refund, {"rehearsal": True}, name="refund_rehearsal"),
]
