"""The WSGI entry point that gunicorn loads."""

import gc
import os

from django.core.wsgi import get_wsgi_application

from electrics.identify.warm import warm_up

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hailstone.settings")
application = get_wsgi_application()

warm_up()  # once, before workers are forked: they share it

# What is loaded now stays: the collector need not look at it again in the middle of a request. What is kept later is
# kept for long, too: looking through all of it takes as long as a request, and is due once in some thousand of them.
gc.collect()
gc.freeze()
gc.set_threshold(10_000, 10, 100)
