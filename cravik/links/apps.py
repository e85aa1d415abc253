from django.apps import AppConfig


class LinksConfig(AppConfig):
    name = "cravik.links"
    label = "links"

    def ready(self) -> None:
        # Only now, when every model is there.
        from cravik.catalogue.services import item_changed
        from cravik.links.items.following import follow_item
        from cravik.links.life.from_setup import follow_defaults
        from cravik.links.making.examples import good_made_last
        from cravik.links.readiness import steps_of_links
        from cravik.setup.defaults import default_changed
        from cravik.setup.own_goods import newest_good
        from cravik.setup.readiness import readiness

        item_changed.hang(follow_item)
        default_changed.hang(follow_defaults)
        readiness.hang(steps_of_links)
        newest_good.hang(good_made_last)
