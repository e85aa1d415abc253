from django.urls import path

from cravik.catalogue import digital_goods_views, picture_views, stock_views, table_views, views

app_name = "catalogue"
urlpatterns = [
    path("", views.items, name="items"),
    path("new/", views.new, name="new"),
    path("spreadsheet/", table_views.table, name="table"),
    path("spreadsheet/catalogue.csv", table_views.file, name="file"),
    path("spreadsheet/<id:upload_id>/progress/", table_views.progress, name="table_progress"),
    path("spreadsheet/<id:upload_id>/", table_views.plan, name="table_plan"),
    path("<id:item_id>/", views.item, name="item"),
    path("<id:item_id>/stock/", stock_views.stock, name="stock"),
    path("<id:item_id>/stock/codes/", stock_views.take_proposed_codes, name="take_codes"),
    path("<id:item_id>/goods/", digital_goods_views.goods, name="goods"),
    path("<id:item_id>/goods/act/", digital_goods_views.act, name="goods_act"),
    path("<id:item_id>/pictures/", picture_views.add, name="add_pictures"),
    path("<id:item_id>/pictures/order/", picture_views.order, name="order_pictures"),
    path("<id:item_id>/pictures/<id:picture_id>/", picture_views.change, name="change_picture"),
    path("<id:item_id>/archive/", views.archive, name="archive"),
    path("<id:item_id>/remove/", views.remove, name="remove"),
    path("<id:item_id>/unarchive/", views.unarchive, name="unarchive"),
]
