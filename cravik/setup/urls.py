from django.contrib.auth.views import LogoutView
from django.urls import path

from cravik.setup import default_views, home_views, views

app_name = "setup"
urlpatterns = [
    path("start/", views.start, name="start"),
    path("sign-in/", views.sign_in, name="sign_in"),
    path("sign-up/", views.sign_up, name="sign_up"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("setup/", home_views.home, name="home"),
    path("setup/business/", home_views.business, name="business"),
    path("setup/no-business/", views.no_business, name="no_business"),
    path("setup/choose/", views.choose, name="choose"),
    path("setup/<slug:subject>/", default_views.decision, name="decision"),
]
