from django.urls import path

from cravik.catalogue import stock_views, views

app_name = "catalogue"
urlpatterns = [
    path("", views.items, name="items"),
    path("new/", views.new, name="new"),
    path("<int:item_id>/", views.item, name="item"),
    path("<int:item_id>/stock/", stock_views.stock, name="stock"),
    path("<int:item_id>/stock/codes/", stock_views.take_proposed_codes, name="take_codes"),
    path("<int:item_id>/put-away/", views.put_away, name="put_away"),
    path("<int:item_id>/take-out/", views.take_out, name="take_out"),
]
