from django.urls import path

from hailstone.jobs import file_views, views

urlpatterns = [
    path("", views.board, name="board"),
    path("jobs/new/", views.new, name="new_job"),
    path("jobs/from-file/", file_views.job_in, name="job_in"),
    path("jobs/<int:job_id>/", views.brief, name="brief"),
    path("jobs/<int:job_id>/job.json", file_views.job_file, name="job_file"),
    path("jobs/<int:job_id>/before/", views.before, name="before"),
    path("jobs/<int:job_id>/remove/", views.remove, name="remove_job"),
]
