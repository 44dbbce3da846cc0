from django.urls import path

from hailstone.lamp import views

urlpatterns = [
    path("lamp/", views.lamp, name="lamp"),
    path("lamp/leads/", views.leads, name="leads"),
    path("lamp/undo/", views.undo_trial, name="undo_trial"),
]
