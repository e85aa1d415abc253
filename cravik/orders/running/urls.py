from django.urls import path

from cravik.orders.running import seller_views as views

app_name = "running"
urlpatterns = [
    path("", views.running, name="list"),
    path("running.csv", views.export, name="csv"),
    path("<id:number>/", views.plan, name="plan"),
    path("rehearsal/<id:number>/", views.rehearsed_plan, name="rehearsal"),
]
