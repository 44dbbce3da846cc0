from django.urls import path

from hailstone.identify import views

urlpatterns = [
    path("", views.entry, name="identify"),
    path("new/", views.new_point, name="new_point"),
    path("earlier/", views.earlier, name="earlier"),
    path("<int:point_id>/", views.bench, name="bench"),
    path("<int:point_id>/readings/", views.save_reading, name="save_reading"),
    path("<int:point_id>/follows/", views.follows, name="follows"),
    path("<int:point_id>/not-fitted/", views.not_fitted, name="not_fitted"),
    path("<int:point_id>/chart/", views.chart, name="chart"),
    path("<int:point_id>/undo/", views.undo, name="undo"),
    path("<int:point_id>/history/", views.history, name="history"),
    path("<int:point_id>/import/", views.import_csv, name="import_csv"),
    path("<int:point_id>/readings.csv", views.export_csv, name="export_csv"),
    path("<int:point_id>/repeat/", views.repeat_point, name="repeat_point"),
    path("<int:point_id>/second-plug/", views.add_second_plug, name="second_plug"),
    path("<int:point_id>/call-sheet/", views.call_sheet, name="call_sheet"),
    path("<int:point_id>/photo/", views.photo, name="photo"),
    path("<int:point_id>/news/", views.news, name="news"),
    path("<int:point_id>/edit/", views.edit_point, name="edit_point"),
    path("<int:point_id>/remove/", views.remove_point, name="remove_point"),
]
