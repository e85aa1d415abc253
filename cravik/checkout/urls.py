from django.urls import path

from cravik.checkout import views

app_name = "checkout"
urlpatterns = [
    path("rehearsal/<int:link_id>/", views.rehearsal, name="rehearsal"),
    path("rehearsal/said/", views.said, name="said"),
    path("visit/slip/", views.slip, name="slip"),
    path("visit/started/", views.started, name="started"),
    path("<slug:slug>/", views.page, name="page"),
]
