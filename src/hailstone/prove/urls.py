from django.urls import path

from hailstone.prove import papers, views

urlpatterns = [
    path("build/", views.build, name="build"),
    path("build/sheet.pdf", papers.build_pdf, name="build_pdf"),
    path("build/labels.pdf", papers.labels, name="labels"),
    path("build/cut-list.csv", papers.cuts_csv, name="cuts_csv"),
    path("build/parts.csv", papers.parts_csv, name="parts_csv"),
    path("prove/look-again.ics", papers.look_again, name="look_again"),
    path("prove/sheet.pdf", papers.sheet_pdf, name="sheet_pdf"),
    path("build/loom.svg", papers.loom, name="loom"),
    path("build/sheet/", papers.build_paper, name="build_paper"),
    path("build/assumed/", views.assumed, name="assumed"),
    path("build/tick/", views.tick, name="tick"),
    path("prove/", views.prove, name="prove"),
    path("prove/record/", views.record, name="record"),
    path("prove/sign/", views.sign, name="sign"),
    path("prove/sheet/", papers.sheet, name="sheet"),
]
