from django.urls import path

from cravik.catalogue import digital_goods_views, picture_views, stock_views, table_views, views

app_name = "catalogue"
urlpatterns = [
    path("", views.items, name="items"),
    path("new/", views.new, name="new"),
    path("spreadsheet/", table_views.table, name="table"),
    path("spreadsheet/catalogue.csv", table_views.file, name="file"),
    path("spreadsheet/<int:upload_id>/progress/", table_views.progress, name="table_progress"),
    path("spreadsheet/<int:upload_id>/", table_views.plan, name="table_plan"),
    path("<int:item_id>/", views.item, name="item"),
    path("<int:item_id>/stock/", stock_views.stock, name="stock"),
    path("<int:item_id>/stock/codes/", stock_views.take_proposed_codes, name="take_codes"),
    path("<int:item_id>/goods/", digital_goods_views.goods, name="goods"),
    path("<int:item_id>/goods/act/", digital_goods_views.act, name="goods_act"),
    path("<int:item_id>/pictures/", picture_views.add, name="add_pictures"),
    path("<int:item_id>/pictures/order/", picture_views.order, name="order_pictures"),
    path("<int:item_id>/pictures/<int:picture_id>/", picture_views.change, name="change_picture"),
    path("<int:item_id>/put-away/", views.put_away, name="put_away"),
    path("<int:item_id>/remove/", views.remove, name="remove"),
    path("<int:item_id>/take-out/", views.take_out, name="take_out"),
]
