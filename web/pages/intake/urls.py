from django.urls import path

from web.pages.intake import describing, entering, importing, photographing

urlpatterns = [
    path("enter/", entering.enter, name="crate-enter"),
    path("enter/read/", entering.read, name="enter-read"),
    path("enter/answer/", entering.answer, name="enter-answer"),
    path("enter/answers/", entering.answers, name="enter-answers"),
    path("enter/describe/", describing.describe, name="enter-describe"),
    path("enter/forget/", entering.forget, name="enter-forget"),
    path("import/", importing.upload, name="crate-import"),
    path("import/<int:pk>/", importing.look_over, name="import-draft"),
    path("import/<int:pk>/accept/", importing.accept, name="import-accept"),
    path("export/<slug:kind>/", importing.export, name="crate-export"),
    path("picture/", photographing.upload, name="crate-picture"),
    path("picture/<int:pk>/", photographing.grid, name="picture-grid"),
    path("picture/<int:pk>/read/", photographing.read, name="picture-read"),
    path("picture/<int:pk>/take/", photographing.take, name="picture-take"),
    path("picture/<int:pk>/all/", photographing.take_all, name="picture-all"),
    path("picture/<int:pk>.jpg", photographing.jpeg, name="crate-jpeg"),
]
