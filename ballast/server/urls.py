from django.urls import re_path

from ballast.server.api import api
from ballast.server.edge.routes import ByFirstWord
from ballast.server.web import absent_api, page

urlpatterns = [
    ByFirstWord("api/v1/", *api.urls),
    re_path(r"^api/", absent_api),
    re_path(r"^(?!assets/).*$", page),
]
handler400 = "ballast.server.web.bad_request"
handler403 = "ballast.server.web.forbidden"
handler404 = "ballast.server.web.not_found"
handler500 = "ballast.server.web.broken"
