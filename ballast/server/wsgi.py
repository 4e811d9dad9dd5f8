import os

from django.core.wsgi import get_wsgi_application
from django.urls import get_resolver

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ballast.server.settings")
application = get_wsgi_application()

from ballast.server.memory import settle  # noqa: E402
from ballast.server.upkeep.serving import begin  # noqa: E402

# Else the first visitor waits for the views to be loaded.
get_resolver().url_patterns  # noqa: B018
settle()
begin()
