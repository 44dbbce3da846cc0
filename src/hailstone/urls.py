"""Every address of the site."""

from django.urls import include, path

from hailstone.hookup import views as hookup
from hailstone.shop import views as shop

urlpatterns = [
    path("", include("hailstone.jobs.urls")),
    path("jobs/<int:job_id>/identify/", include("hailstone.identify.urls")),
    path("jobs/<int:job_id>/", include("hailstone.hookup.urls")),
    path("jobs/<int:job_id>/", include("hailstone.correct.urls")),
    path("jobs/<int:job_id>/", include("hailstone.prove.urls")),
    path("jobs/<int:job_id>/", include("hailstone.units.urls")),
    path("jobs/<int:job_id>/", include("hailstone.lamp.urls")),
    path("", include("hailstone.wirebook.urls")),
    path("schools/", hookup.schools, name="schools"),
    path("words/", shop.words, name="words"),
    path("sign-in/", shop.SignIn.as_view(), name="sign_in"),
    path("sign-out/", shop.SignOut.as_view(), name="sign_out"),
    path("theme/", shop.theme, name="theme"),
]

handler400 = "hailstone.shop.views.bad_request"
handler404 = "hailstone.shop.views.not_found"
handler500 = "hailstone.shop.views.failed"
