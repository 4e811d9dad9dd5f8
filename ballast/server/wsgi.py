import os
import sys

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
# Each question to the database lets other threads in: whoever asks a dozen of them, and holds the writers' lock, goes on soon.
sys.setswitchinterval(0.0005)
