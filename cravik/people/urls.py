from django.contrib.auth.views import LogoutView
from django.urls import path

from cravik.people import password_views, views

app_name = "people"
urlpatterns = [
    path("start/", views.start, name="start"),
    path("sign-in/", views.SignInView.as_view(), name="sign_in"),
    path("sign-up/", views.sign_up, name="sign_up"),
    path("sign-up/<str:signed>/", views.confirm_sign_up, name="confirm_sign_up"),
    path("sign-out/", LogoutView.as_view(), name="sign_out"),
    path("forgotten/", password_views.forgotten, name="forgotten"),
    path("new-password/<uidb64>/<token>/", password_views.NewPasswordView.as_view(), name="new_password"),
    path("setup/password/", password_views.change_password, name="change_password"),
    path("setup/no-business/", views.no_business, name="no_business"),
    path("setup/choose/", views.choose, name="choose"),
]
