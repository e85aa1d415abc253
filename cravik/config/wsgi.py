"""The entry point of a web server."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cravik.config.settings")
application = get_wsgi_application()

# What was loaded stays for good: the collector need not walk it again.
gc.collect()
gc.freeze()
gc.set_threshold(20_000, 20, 50)
