from django.urls import path, re_path

from cravik.links.bench import goods_views, item_price_views, name_views, said_views, setting_views, what_if_views
from cravik.links.bench import views as bench_views
from cravik.links.life import views as life_views
from cravik.links.making import from_text_views
from cravik.links.making import item_views as making_of_item_views
from cravik.links.making import views as making_views
from cravik.links.many import views as many_views
from cravik.links.places import filled_address
from cravik.links.waiting import views as waiting_views

app_name = "links"
urlpatterns = [
    path("new/", making_views.new, name="new"),
    path("say/", from_text_views.say, name="say"),
    path("say/understood/", from_text_views.understood, name="understood"),
    path("start/", making_views.start, name="start"),
    path("bring/", making_views.bring, name="bring"),
    path("of-item/<id:item_id>/", making_of_item_views.sell_item, name="sell_item"),
    path("<id:link_id>/copy/", making_views.copy, name="copy"),
    path("<id:link_id>/export/", making_views.export, name="export"),
    path("<id:link_id>/starting-point/", making_views.keep_as_start, name="keep_as_start"),
    path("many/", many_views.many, name="many"),
    path("many/said/", many_views.said_many, name="said_many"),
    path("names/", bench_views.names, name="names"),
    path("<id:link_id>/", bench_views.bench, name="bench"),
    path("<id:link_id>/said/", said_views.said_change, name="said_change"),
    path("<id:link_id>/what-if/", what_if_views.what_if, name="what_if"),
    path("<id:link_id>/photos/<str:line>/", goods_views.add_photos, name="add_photos"),
    path("<id:link_id>/files/<str:line>/", goods_views.add_files, name="add_files"),
    path("<id:link_id>/name/", name_views.rename, name="rename"),
    path("<id:link_id>/address/", name_views.change_address, name="change_address"),
    path("<id:link_id>/own/<slug:subject>/", setting_views.own_setting, name="own_setting"),
    path("setup/<slug:subject>/", setting_views.republish, name="republish"),
    path("<id:link_id>/item-price/", item_price_views.take_item_price, name="take_item_price"),
    path("<id:link_id>/filled/", filled_address.filled_address, name="filled_address"),
    path("<id:link_id>/waiting/", waiting_views.waiting, name="waiting"),
    path("<id:link_id>/publish/", life_views.publish, name="publish"),
    path("<id:link_id>/archive/", life_views.archive, name="archive"),
    path("<id:link_id>/back/", life_views.unarchive, name="unarchive"),
    re_path(r"^(?P<link_id>\d{1,18})/(?P<name>pause|resume|end)/$", life_views.step, name="step"),
]
