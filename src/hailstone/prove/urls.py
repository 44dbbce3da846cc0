from django.urls import path

from hailstone.prove import views

urlpatterns = [
    path("build/", views.build, name="build"),
    path("build/loom.svg", views.loom, name="loom"),
    path("build/sheet/", views.build_paper, name="build_paper"),
    path("build/assumed/", views.assumed, name="assumed"),
    path("build/tick/", views.tick, name="tick"),
    path("prove/", views.prove, name="prove"),
    path("prove/record/", views.record, name="record"),
    path("prove/sign/", views.sign, name="sign"),
    path("prove/sheet/", views.sheet, name="sheet"),
]
