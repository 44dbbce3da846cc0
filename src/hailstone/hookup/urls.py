from django.urls import path

from hailstone.hookup import views

urlpatterns = [
    path("hook-up/", views.hookup, name="hookup"),
    path("hook-up/assumed/", views.assumed, name="hookup_assumed"),
    path("distance/", views.distance, name="distance"),
]
