from django.urls import path

from hailstone.correct import views

urlpatterns = [
    path("correct/", views.correct, name="correct"),
    path("correct/cures/", views.cures, name="cures"),
    path("correct/take/", views.take, name="take_cure"),
    path("correct/flasher/", views.flasher, name="keep_flasher"),
    path("correct/habits/", views.keep_habits, name="keep_habits"),
]
