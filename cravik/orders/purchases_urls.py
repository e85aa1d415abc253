from django.urls import path

from cravik.orders.purchases import parting_views, views

app_name = "purchases"
urlpatterns = [
    path("<id:business_id>/", views.page, name="page"),
    path("<id:business_id>/open/<str:opens>/", views.open_page, name="open"),
    path("<id:business_id>/data.json", views.data, name="data"),
    path("<id:business_id>/refund/", views.wish, name="wish"),
    path("<id:business_id>/orders/<id:number>/withdraw/", parting_views.withdrawal, name="withdraw"),
    path("<id:business_id>/erase/", parting_views.erasure, name="erase"),
    path("<id:business_id>/leave/", views.leave, name="leave"),
]
