from django.urls import path

from cravik.checkout import card_views, views, waiting_views
from cravik.checkout.oembed import oembed

app_name = "checkout"
urlpatterns = [
    path("rehearsal/<id:link_id>/", views.rehearsal, name="rehearsal"),
    path("rehearsal/line/", views.line_preview, name="line_preview"),
    path("card/oembed.json", oembed, name="oembed"),
    path("visit/slip/", views.slip, name="slip"),
    path("visit/started/", views.started, name="started"),
    path("visit/fields/", views.fields, name="fields"),
    path("rehearsal/<id:link_id>/card.jpg", card_views.draft_card, name="draft_card"),
    path("visit/hear/<str:key>/", waiting_views.confirm_waiting, name="confirm_waiting"),
    path("<slug:slug>/wait/", waiting_views.wait, name="wait"),
    path("<slug:slug>/card.jpg", card_views.card, name="card"),
    path("<slug:slug>/", views.page, name="page"),
]
