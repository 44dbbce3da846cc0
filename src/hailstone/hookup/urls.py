from django.urls import path

from hailstone.hookup import views

urlpatterns = [
    path("hook-up/", views.hookup, name="hookup"),
    path("distance/", views.distance, name="distance"),
]
