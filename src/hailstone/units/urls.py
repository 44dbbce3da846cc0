from django.urls import path

from hailstone.units import views

urlpatterns = [
    path("units/", views.units, name="units"),
    path("units/begin/", views.begin, name="begin_units"),
    path("units/add/", views.add, name="add_unit"),
    path("units/save/", views.save, name="save_unit"),
    path("units/remove/", views.remove, name="remove_unit"),
    path("units/place/", views.place, name="add_place"),
    path("units/place/remove/", views.remove_place, name="remove_place"),
    path("take-back/", views.take_back, name="take_back"),
]
