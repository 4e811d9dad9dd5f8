from django.urls import path, re_path

from ballast.server.api import api
from ballast.server.web import absent_api, page

urlpatterns = [
    path("api/v1/", api.urls),
    re_path(r"^api/", absent_api),
    re_path(r"^(?!assets/).*$", page),
]
handler400 = "ballast.server.web.bad_request"
handler403 = "ballast.server.web.forbidden"
handler404 = "ballast.server.web.not_found"
handler500 = "ballast.server.web.broken"
