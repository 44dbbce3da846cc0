from django.urls import path

from hailstone.wirebook import views

urlpatterns = [
    path("wire-book/", views.book, name="wire_book"),
    path("wire-book/import/", views.import_book, name="import_book"),
    path("wire-book/wire-book.csv", views.export_book, name="export_book"),
    path("wire-book/<int:finding_id>/take-out/", views.take_out, name="take_out"),
    path("jobs/<int:job_id>/identify/<int:point_id>/keep/", views.keep, name="keep_point"),
]
