from django.apps import AppConfig

from cravik.upkeep.hooks import hang


class LinksConfig(AppConfig):
    name = "cravik.links"
    label = "links"

    def ready(self) -> None:
        hang("cravik.catalogue.services.item_changed", "cravik.links.items.following.follow_item")
        hang("cravik.setup.defaults.default_changed", "cravik.links.life.from_setup.follow_defaults")
        hang("cravik.setup.readiness.readiness", "cravik.links.readiness.steps_of_links")
        hang("cravik.setup.own_goods.newest_good", "cravik.links.making.examples.good_made_last")
