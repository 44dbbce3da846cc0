"""The WSGI entry point that gunicorn loads."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hailstone.settings")
application = get_wsgi_application()
