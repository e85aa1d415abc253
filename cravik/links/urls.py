from django.urls import path, re_path

from cravik.links import (
    care_views,
    filled_address,
    from_setup_views,
    item_views,
    many_views,
    said_views,
    starting_views,
    views,
    waiting_views,
)
from cravik.links.bench import goods_views, what_if_views
from cravik.links.bench import views as bench_views

app_name = "links"
urlpatterns = [
    path("new/", views.new, name="new"),
    path("say/", said_views.say, name="say"),
    path("say/understood/", said_views.understood, name="understood"),
    path("<id:link_id>/", bench_views.bench, name="bench"),
    path("<id:link_id>/filled/", filled_address.filled_address, name="filled_address"),
    path("<id:link_id>/what-if/", what_if_views.what_if, name="what_if"),
    path("<id:link_id>/photos/<str:line>/", goods_views.add_photos, name="add_photos"),
    path("<id:link_id>/files/<str:line>/", goods_views.add_files, name="add_files"),
    path("many/", many_views.many, name="many"),
    path("names/", bench_views.names, name="names"),
    path("of-item/<id:item_id>/", item_views.sell_item, name="sell_item"),
    path("<id:link_id>/own/<slug:subject>/", from_setup_views.own_setting, name="own_setting"),
    path("setup/<slug:subject>/", from_setup_views.republish, name="republish"),
    path("<id:link_id>/item-price/", item_views.take_item_price, name="take_item_price"),
    path("<id:link_id>/waiting/", waiting_views.waiting, name="waiting"),
    path("start/", starting_views.start, name="start"),
    path("bring/", starting_views.bring, name="bring"),
    path("<id:link_id>/export/", care_views.export, name="export"),
    path("<id:link_id>/starting-point/", care_views.keep_as_start, name="keep_as_start"),
    path("<id:link_id>/archive/", care_views.archive, name="archive"),
    path("<id:link_id>/back/", care_views.unarchive, name="unarchive"),
    path("<id:link_id>/copy/", views.copy, name="copy"),
    path("<id:link_id>/name/", views.rename, name="rename"),
    path("<id:link_id>/address/", views.change_address, name="change_address"),
    path("<id:link_id>/publish/", views.publish, name="publish"),
    re_path(r"^(?P<link_id>\d{1,18})/(?P<name>pause|resume|end)/$", views.step, name="step"),
]
