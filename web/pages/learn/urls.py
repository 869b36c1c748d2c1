from django.contrib.auth.decorators import login_not_required
from django.urls import path
from django.views.generic import RedirectView, TemplateView

from web.pages.learn import drilling, sinking, views

urlpatterns = [
    path("", views.home, name="teach"),
    path("story/<slug:category>/", views.story, name="teach-story"),
    path("story/<slug:category>.pdf", views.story_pdf, name="teach-story-pdf"),
    path("drill/", drilling.drill, name="teach-drill"),
    path("drill/answers/", drilling.answers, name="teach-answers"),
    path("depth/", sinking.depth, name="teach-depth"),
    path("depth/read/", sinking.read, name="teach-depth-read"),
    path("depth/for/<int:pk>/", sinking.for_readings, name="teach-depth-for"),
    path("depth/for/<int:pk>/right/", sinking.put_right, name="teach-depth-right"),
    path("bites/", views.bites, name="teach-bites"),
    path("debates/", views.debates, name="teach-debates"),
    path("how/", login_not_required(TemplateView.as_view(template_name="teach/how.html")), name="how"),
    path("quarrels/", RedirectView.as_view(pattern_name="teach-debates", permanent=True)),
]
