import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "ballast.server.settings")
application = get_wsgi_application()
# What was loaded so far stays for good: it need not be looked through again whenever memory is tidied.
gc.collect()
gc.freeze()
